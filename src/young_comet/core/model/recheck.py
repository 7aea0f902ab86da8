"""Changed parts of a document validated as loading would validate them.

Operations build documents with ``model_copy``, which validates nothing. What is saved must load
again, so every object that is new is put through its model's validation; objects that both
documents share are taken over as they are, so the cost follows the change.
"""

from __future__ import annotations

from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from ...errors import DocumentError
from .property import Property
from .schema import from_validation

_NOTHING = object()
Model = TypeVar("Model", bound=BaseModel)


def recheck(old: BaseModel | None, new: Model) -> Model:
    """``new`` with everything in it validated that is not an object of ``old``.

    Raises DocumentError, naming the field, where loading the document would.
    """
    try:
        checked: Model = _model(old, new)
    except ValidationError as error:
        raise from_validation(error) from error
    except RecursionError as error:
        raise DocumentError("this lies too deep within itself") from error
    return checked


def _model(old: Any, new: BaseModel) -> Any:
    if old is new:
        return new
    before = old.__dict__ if type(old) is type(new) else {}
    changed = {
        name: _value(before.get(name), value)
        for name, value in new.__dict__.items()
        if before.get(name, _NOTHING) is not value
    }
    if before and all(map(_holds_models, changed.values())):
        # Dictionaries of models say nothing more than their models, which were just validated.
        if all(new.__dict__[name] is value for name, value in changed.items()):
            return new
        return new.model_copy(update=changed)
    # Instances within are taken as they are: they were validated on the way.
    checked = type(new).__pydantic_validator__.validate_python({**new.__dict__, **changed})
    # Most properties are as they should be: the catalog sees to the types of their values.
    if isinstance(new, Property) and changed.keys() <= {"value"} and checked == new:
        return new if changed.get("value", new.value) is new.value else checked
    return checked


def _holds_models(value: Any) -> bool:
    return isinstance(value, dict) and all(
        isinstance(key, str) and isinstance(item, BaseModel) for key, item in value.items()
    )


def _value(old: Any, new: Any) -> Any:
    if new is old:
        return new
    if isinstance(new, BaseModel):
        return _model(old, new)
    if isinstance(new, float):
        return new or 0.0  # -0.0 and 0.0 are equal, but not as texts
    if isinstance(new, tuple) and new:
        if isinstance(new[0], BaseModel):
            return _items(old if isinstance(old, tuple) else (), new)
        items = tuple(_value(None, item) for item in new)
        return new if all(a is b for a, b in zip(items, new, strict=True)) else items
    if isinstance(new, dict):
        before = old if isinstance(old, dict) else {}
        checked = {
            key: value if before.get(key) is value else _value(before.get(key), value)
            for key, value in new.items()
        }
        return new if all(checked[key] is value for key, value in new.items()) else checked
    return new


def _items(old: tuple[Any, ...], new: tuple[Any, ...]) -> tuple[Any, ...]:
    """Things with ids are compared with those of the same id, others with those in their place."""
    if len(old) == len(new):
        pairs = zip(old, new, strict=True)
        if all(getattr(a, "id", None) == getattr(b, "id", None) for a, b in pairs):
            return tuple(b if a is b else _value(a, b) for a, b in zip(old, new, strict=True))
    known = {item.id: item for item in old if hasattr(item, "id")}
    return tuple(_value(known.get(getattr(item, "id", None)), item) for item in new)
