"""Type styles: which properties of a text they say, and what of a text differs from its style."""

from __future__ import annotations

from typing import Any

from ...errors import DocumentError
from ..model.document import Layer, TypeStyle
from ..model.property import Property
from ..model.specs import PropertySpec
from .kinds import layer_kind

_SECTIONS = ("Text", "Letters", "Lines", "Fill", "Stroke", "Shadow", "Box behind")
# What a text says and where it has its place is no look; nor is what moves it.
_NO_LOOK = frozenset({
    "text", "text.grows", "text.box", "text.box-size", "text.fit", "text.least", "text.vertical",
    "text.measure", "fill.layer", "stroke.dash-offset", "behind.grown",
})  # fmt: skip


def _styled() -> dict[str, PropertySpec]:
    specs = layer_kind("text").specs
    return {s.id: s for s in specs if s.section in _SECTIONS and s.id not in _NO_LOOK}


# What a type style says, by id, in the order of the fields.
STYLED: dict[str, PropertySpec] = _styled()


def check_type_style(style: TypeStyle) -> TypeStyle:
    """The style with canonical values, those that are as they would be anyway left out;
    DocumentError names what it cannot say."""
    where = f"type style {style.name!r}"
    properties = {}
    for name, value in style.properties.items():
        spec = STYLED.get(name)
        if spec is None:
            raise DocumentError(f"a type style says nothing of {name!r}", field=where)
        checked = spec.kind.check(spec, value, f"{where} / {spec.label}")
        if checked != spec.default:
            properties[name] = checked
    if properties == style.properties:
        return style
    return style.model_copy(update={"properties": properties})


def said_by(style: TypeStyle, name: str) -> Any:
    """The value that a style has for a property."""
    return style.properties.get(name, STYLED[name].default)


def look_of(layer: Layer) -> dict[str, Any]:
    """What a style says that is taken from a text: values that are not their defaults. What has
    keys or a formula is its own, and is left out."""
    return {
        name: prop.value
        for name, prop in layer.properties.items()
        if name in STYLED and is_plain(prop) and prop.value != STYLED[name].default
    }


def is_plain(prop: Property) -> bool:
    """Whether a property is a value, without keys or a formula."""
    return not prop.keys and not prop.expression


def differing(layer: Layer, style: TypeStyle) -> list[str]:
    """The properties in which a text differs from a style, by id, in the order of the fields."""
    found = []
    for name, spec in STYLED.items():
        prop = layer.properties.get(name)
        value = spec.default if prop is None else prop.value
        if (prop is not None and not is_plain(prop)) or value != said_by(style, name):
            found.append(name)
    return found


def dressed(layer: Layer, style: TypeStyle, names: list[str] | None = None) -> Layer:
    """A text with a style's values, in all that a style says or in the properties of ``names``.
    What has keys or a formula keeps them."""
    properties = dict(layer.properties)
    for name in STYLED if names is None else names:
        prop = properties.get(name)
        if prop is not None and not is_plain(prop):
            continue
        value = said_by(style, name)
        if value == STYLED[name].default:
            properties.pop(name, None)
        else:
            properties[name] = (prop or Property()).model_copy(update={"value": value})
    return layer.model_copy(update={"properties": properties, "type_style": style.id})
