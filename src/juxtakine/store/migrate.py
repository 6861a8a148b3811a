"""Brings the database to the newest schema: `python -m juxtakine.store.migrate`."""

from pathlib import Path

from alembic import command
from alembic.config import Config

from juxtakine.settings import settings


def migrate(url: str) -> None:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["url"] = url
    command.upgrade(config, "head")


if __name__ == "__main__":
    migrate(settings().database_url)
