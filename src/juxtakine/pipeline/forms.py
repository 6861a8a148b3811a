"""What all forms have in common that files and the interface carry (docs/formats.md), and how a file is read."""

from collections.abc import Mapping
from pathlib import Path
from typing import Annotated, TypeVar

from pydantic import BaseModel, ConfigDict, PlainSerializer, ValidationError


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
    """A JSON file in its form. Raises FormError with the first thing that is wrong."""
    try:
        return form.model_validate_json(path.read_bytes())
    except ValidationError as error:
        raise FormError(f"{path.name}: {first_problem(error.errors())}") from error


def first_problem(errors: list[Mapping[str, object]] | list[object]) -> str:
    """The first of pydantic's problems, as a place and a reason."""
    first = errors[0]
    assert isinstance(first, Mapping)
    place = ".".join(str(k) for k in first["loc"])  # type: ignore[attr-defined]
    return f"{place}: {first['msg']}" if place else str(first["msg"])
