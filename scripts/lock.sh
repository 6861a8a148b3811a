#!/usr/bin/env bash
# Writes the locked lists of Python packages anew, with hashes and no registry's address. Takes some minutes.
set -euo pipefail
cd "$(dirname "$0")/.."
tools=$(mktemp -d)
trap 'rm -rf "$tools"' EXIT
# Debian's own, the oldest that we run on: some packages need more there than on a later 3.11
/usr/bin/python3 -m venv "$tools"
"$tools/bin/pip" install --quiet pip-tools
compile() {
  "$tools/bin/pip-compile" --quiet --allow-unsafe --generate-hashes --strip-extras --no-header \
    --no-emit-index-url --no-emit-find-links --no-emit-trusted-host "$@" pyproject.toml
}
compile --extra dev --output-file requirements/dev.txt
compile --constraint requirements/dev.txt --output-file requirements/run.txt
