"""What all forms have in common that files and the interface carry (docs/formats.md), and how a file is read."""

from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Annotated, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, PlainSerializer, ValidationError

from juxtakine.core.limits import LARGEST_SHEET, LONGEST_LINE, LONGEST_TEXT, LONGEST_WORDS

MOST_TOLD = 5


class FormError(ValueError):
    """A file that does not have the form it should; the message says where and why."""


class Form(BaseModel):
    model_config = ConfigDict(populate_by_name=True, serialize_by_alias=True, allow_inf_nan=False)


def _whole_characters(text: str) -> str:
    """Raises ValueError for halves of characters, which no file can hold, and for what ends a text in some programs."""
    if any("\ud800" <= c <= "\udfff" or c == "\0" for c in text):
        raise ValueError("there is half a character in it, or none: type it anew")
    return text


Line = Annotated[str, Field(max_length=LONGEST_LINE), AfterValidator(_whole_characters)]
Words = Annotated[str, Field(max_length=LONGEST_WORDS), AfterValidator(_whole_characters)]
Text = Annotated[str, Field(max_length=LONGEST_TEXT), AfterValidator(_whole_characters)]
"""A row's line or an order; a cue or a name; a whole sheet."""


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
        if path.stat().st_size > LARGEST_SHEET:
            raise FormError(f"{path.name} is larger than {LARGEST_SHEET / 1e6:.0f} MB: that is no sheet and no grid")
        return form.model_validate_json(path.read_bytes())
    except OSError as error:
        raise FormError(f"{path.name} can't be read: {error.strerror}") from error
    except ValidationError as error:
        raise FormError(f"{path.name}: {told([*problems(error)])}") from error


def formed(make: Callable[[], F]) -> F:
    """A form made of what was read elsewhere. Raises FormError where it is beyond what a form may hold."""
    try:
        return make()
    except ValidationError as error:
        raise FormError(told([*problems(error)])) from error


def problems(error: ValidationError) -> Iterator[str]:
    """Each as a place and a reason."""
    for found in error.errors():
        place = ".".join(map(str, found["loc"]))
        yield f"{place}: {found['msg']}" if place else found["msg"]


def told(problems: Sequence[str]) -> str:
    """All that can be read at once, and how many more there are."""
    more = len(problems) - MOST_TOLD
    return "; ".join(problems[:MOST_TOLD]) + (f"; and {more} more" if more > 0 else "")
