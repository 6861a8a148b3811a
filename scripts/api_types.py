"""Writes the front end's types from the server's. They are made anew before each check and never kept in the
repository, so that they can't be others than the server's."""

import json
import subprocess
import tempfile
from pathlib import Path

from juxtakine.settings import PROJECT
from juxtakine.web.app import app

TYPES = PROJECT / "frontend" / "src" / "api" / "schema.ts"


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        described = Path(folder) / "openapi.json"
        described.write_text(json.dumps(app.openapi()))
        subprocess.run(
            ["npx", "--no-install", "openapi-typescript", str(described), "-o", str(TYPES),
             "--root-types", "--root-types-no-schema-prefix"],
            check=True, capture_output=True, cwd=PROJECT,
        )  # fmt: skip


if __name__ == "__main__":
    main()
