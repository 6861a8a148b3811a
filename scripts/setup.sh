#!/usr/bin/env bash
# Makes this checkout ready: `setup.sh run` to use it, `dev` to check and test it as well, `bench` to film made-up dancers.
# Each part is done only where what it is made from has changed, so that a second call takes a moment.
set -euo pipefail
cd "$(dirname "$0")/.."
kind=${1:-run}
stamps=.venv/stamps

say() { printf '%s\n' "$*"; }

as_root() {
  if [ "$(id -u)" -eq 0 ]; then "$@"; else sudo "$@"; fi
}

debian() { # install those of the named packages that are missing, and start none of their services
  local missing=() name
  for name in "$@"; do
    dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q 'ok installed' || missing+=("$name")
  done
  [ ${#missing[@]} -gt 0 ] || return 0
  if ! command -v apt-get >/dev/null || { [ "$(id -u)" -ne 0 ] && ! command -v sudo >/dev/null; }; then
    say "These Debian packages are missing and can't be installed from here: ${missing[*]}" >&2
    exit 1
  fi
  say "Installing Debian packages: ${missing[*]}"
  local policy=/usr/sbin/policy-rc.d made=
  if [ ! -e $policy ]; then
    printf '#!/bin/sh\nexit 101\n' | as_root tee $policy >/dev/null
    as_root chmod +x $policy
    made=yes
  fi
  local status=0
  { as_root apt-get update -qq &&
    as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null; } || status=$?
  [ -z "$made" ] || as_root rm -f $policy
  return $status
}

changed() { # changed NAME FILE...: whether the files differ from when NAME was last done
  local name=$1
  shift
  now=$(cat "$@" | sha256sum)
  [ "$(cat "$stamps/$name" 2>/dev/null)" != "$now" ]
}

done_with() { mkdir -p $stamps && printf '%s' "$now" >"$stamps/$1"; }

packages=(python3-venv mariadb-server redis-server libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0)
[ "$kind" != run ] && packages+=(chromium)
[ "$kind" = bench ] && packages+=(libegl1 libgl1-mesa-dri espeak-ng)
debian "${packages[@]}"

[ -x .venv/bin/python ] || python3 -m venv .venv
list=requirements/run.txt
# what the tests need stays once it is there
{ [ "$kind" != run ] || [ -e $stamps/dev ]; } && list=requirements/dev.txt
if changed python $list pyproject.toml; then
  say "Installing Python packages"
  .venv/bin/pip install --quiet --disable-pip-version-check --require-hashes -r $list
  .venv/bin/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --editable .
  done_with python
fi
[ "$kind" != run ] && touch $stamps/dev

if changed node package-lock.json package.json || [ ! -d node_modules ]; then
  say "Installing front-end packages"
  npm ci --silent --no-audit --no-fund
  done_with node
fi

if changed model scripts/pack_pose_model.py package-lock.json || [ ! -e models/pose_heavy.task ]; then
  say "Packing the pose model"
  .venv/bin/python scripts/pack_pose_model.py node_modules/@mediapipe/pose models
  done_with model
fi

mapfile -t sources < <(find frontend -path frontend/dist -prune -o -type f ! -name schema.ts -print | sort)
if changed build package-lock.json "${sources[@]}" || [ ! -e frontend/dist/index.html ]; then
  say "Building the front end"
  npm run --silent build >/dev/null
  done_with build
fi
