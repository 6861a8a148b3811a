"""Settings, each of which `JUXTAKINE_…` in the environment can change."""

from functools import cache
from pathlib import Path
from typing import Annotated

from pydantic import AfterValidator, Field, ValidationError
from pydantic_settings import BaseSettings, SettingsConfigDict

from juxtakine.core.movement.tracks import Network

PROJECT = Path(__file__).resolve().parents[2]
PREFIX = "JUXTAKINE_"


class SettingsError(ValueError):
    """Settings that can't be used; the message names them."""


def _named(path: Path) -> Path:
    if path == Path():
        raise ValueError("names no folder")
    return path


Folder = Annotated[Path, AfterValidator(_named)]
Port = Annotated[int, Field(ge=1, le=65_535)]


class Settings(BaseSettings):
    """`var` holds all that the student has; ports are where the search for a free one begins."""

    model_config = SettingsConfigDict(env_prefix=PREFIX)

    var: Folder = PROJECT / "var"
    models: Folder = PROJECT / "models"
    frontend: Folder = PROJECT / "frontend" / "dist"
    web_port: Port = 8321
    database_port: Port = 8322
    broker_port: Port = 8323
    database_url: str = ""
    broker_url: str = ""
    model: Network = Network.HEAVY

    @property
    def media(self) -> Path:
        return self.var / "media"

    @property
    def tracks(self) -> Path:
        return self.var / "tracks"

    def task_file(self, model: str) -> Path:
        return self.models / f"pose_{model}.task"


@cache
def settings() -> Settings:
    """Raises SettingsError."""
    try:
        return Settings()
    except ValidationError as error:
        told = (f"{PREFIX}{str(e['loc'][0]).upper()}={e['input']}: {e['msg']}" for e in error.errors())
        raise SettingsError(f"These settings can't be used: {'; '.join(told)}.") from error
