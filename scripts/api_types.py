"""The front end's types, generated from the server's: this writes them, `--check` says whether they differ."""

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from juxtakine.settings import PROJECT
from juxtakine.web.app import app

TYPES = PROJECT / "frontend" / "src" / "api" / "schema.ts"


def generated() -> str:
    with tempfile.TemporaryDirectory() as folder:
        described, made = Path(folder) / "openapi.json", Path(folder) / "schema.ts"
        described.write_text(json.dumps(app.openapi()))
        subprocess.run(
            ["npx", "--no-install", "openapi-typescript", str(described), "-o", str(made),
             "--root-types", "--root-types-no-schema-prefix"],
            check=True, capture_output=True, cwd=PROJECT,
        )  # fmt: skip
        return made.read_text()


def main() -> int:
    types = generated()
    if "--check" not in sys.argv:
        TYPES.parent.mkdir(parents=True, exist_ok=True)
        TYPES.write_text(types)
        return 0
    if TYPES.exists() and TYPES.read_text() == types:
        return 0
    print("The front end's types are not the server's: run make api.")
    return 1


if __name__ == "__main__":
    sys.exit(main())
