"""Settings, each of which `JUXTAKINE_…` in the environment can change."""

from functools import cache
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict

PROJECT = Path(__file__).resolve().parents[2]


class Settings(BaseSettings):
    """`var` holds all that the student has; ports are where the search for a free one begins."""

    model_config = SettingsConfigDict(env_prefix="JUXTAKINE_")

    var: Path = PROJECT / "var"
    models: Path = PROJECT / "models"
    frontend: Path = PROJECT / "frontend" / "dist"
    web_port: int = 8321
    database_port: int = 8322
    broker_port: int = 8323
    database_url: str = ""
    broker_url: str = ""
    model: str = "heavy"

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
    return Settings()
