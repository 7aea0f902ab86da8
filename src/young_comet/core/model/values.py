"""What all parts of the document are made of: ids, names, times, values, frozen records."""

from __future__ import annotations

import math
from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints

MAX_NAME = 200
MAX_NOTE = 4000
MAX_LENGTH_S = 3600.0

Id = Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$")]
Name = Annotated[str, Field(min_length=1, max_length=MAX_NAME)]
Tag = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=30, pattern=r"^[^,]*$")
]
Tags = Annotated[tuple[Tag, ...], Field(max_length=12)]
Seconds = Annotated[float, Field(ge=-MAX_LENGTH_S, le=MAX_LENGTH_S, allow_inf_nan=False)]
PhaseLength = Annotated[float, Field(ge=0, le=MAX_LENGTH_S, allow_inf_nan=False)]
Finite = Annotated[float, Field(allow_inf_nan=False)]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}([0-9a-fA-F]{2})?$")]


# The deepest values are lists of gradient points, with their colours.
_DEEPEST = 6


def _freeze(value: Any, depth: int = 0) -> Any:
    """Lists become tuples, so that a document cannot be changed in place."""
    if isinstance(value, list | tuple):
        if depth > _DEEPEST:
            raise ValueError(f"expected lists at most {_DEEPEST} deep")
        return tuple(_freeze(item, depth + 1) for item in value)
    if isinstance(value, float) and not math.isfinite(value):
        raise ValueError("expected a finite number")
    if isinstance(value, str) and not value.isascii():
        try:
            value.encode()
        except UnicodeEncodeError:
            raise ValueError("expected a text of whole characters") from None
    if value is None or isinstance(value, bool | int | float | str):
        return value
    raise ValueError("expected a number, a text, true, false or a list of these")


Value = Annotated[Any, BeforeValidator(lambda value: _freeze(value))]


class Frozen(BaseModel):
    """No unknown fields, no changes in place."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
