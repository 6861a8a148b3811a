"""What all forms have in common that files and the interface carry (docs/formats.md), and how a file is read."""

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Annotated, TypeVar

from pydantic import BaseModel, ConfigDict, PlainSerializer, ValidationError

MOST_TOLD = 5


class FormError(ValueError):
    """A file that does not have the form it should; the message says where and why."""


class Form(BaseModel):
    model_config = ConfigDict(populate_by_name=True, serialize_by_alias=True)


def _rounded(digits: int) -> PlainSerializer:
    return PlainSerializer(lambda v: None if v is None else round(v, digits), return_type=float | None)


Seconds = Annotated[float, PlainSerializer(lambda v: round(v, 4), return_type=float)]
MaybeSeconds = Annotated[float | None, _rounded(4)]
MaybeTenths = Annotated[float | None, _rounded(1)]
Share = Annotated[float, PlainSerializer(lambda v: round(v, 3), return_type=float)]
MaybeShare = Annotated[float | None, _rounded(3)]
Error = Annotated[float | None, _rounded(3)]


F = TypeVar("F", bound=Form)


def read_form(form: type[F], path: Path) -> F:
    """A JSON file in its form. Raises FormError with what is wrong."""
    try:
        return form.model_validate_json(path.read_bytes())
    except ValidationError as error:
        raise FormError(f"{path.name}: {told([*problems(error)])}") from error


def problems(error: ValidationError) -> Iterator[str]:
    """Each as a place and a reason."""
    for found in error.errors():
        place = ".".join(map(str, found["loc"]))
        yield f"{place}: {found['msg']}" if place else found["msg"]


def told(problems: Sequence[str]) -> str:
    """All that can be read at once, and how many more there are."""
    more = len(problems) - MOST_TOLD
    return "; ".join(problems[:MOST_TOLD]) + (f"; and {more} more" if more > 0 else "")
