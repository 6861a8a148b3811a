"""What all shapes have in common: no number that JSON can't carry."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from juxtakine.core.limits import FARTHEST_S


class Shape(BaseModel):
    model_config = ConfigDict(allow_inf_nan=False)


ClipSecond = Annotated[float, Field(ge=-FARTHEST_S, le=FARTHEST_S)]
"""Seconds of a play copy, as somebody says them."""
