"""Which layers of two scenes are one another's counterparts."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from ..model import Layer, Scene

Same = Callable[[Layer, Layer], bool]


def _linked(a: Layer, b: Layer) -> bool:
    return bool({a.id, a.copy_of} & {b.id, b.copy_of} - {None})


def _named(a: Layer, b: Layer) -> bool:
    return a.kind == b.kind and a.name.strip().casefold() == b.name.strip().casefold()


def _held(layer: Layer, name: str) -> object:
    prop = layer.properties.get(name)
    return None if prop is None or prop.keys or prop.expression else prop.value


def _source(a: Layer, b: Layer) -> bool:
    names = {"picture": "picture.asset", "clip": "clip.asset", "scene": "scene.id"}
    name = names.get(a.kind)
    return a.kind == b.kind and name is not None and bool(_held(a, name)) and (
        _held(a, name) == _held(b, name)
    )  # fmt: skip


def _text(a: Layer, b: Layer) -> bool:
    one, two = (str(_held(each, "text") or "").split() for each in (a, b))
    return a.kind == b.kind == "text" and bool(one) and (
        [w.casefold() for w in one] == [w.casefold() for w in two]
    )  # fmt: skip


# The surer the sooner.
_SIGNS: tuple[Same, ...] = (_linked, _named, _source, _text)
# What is heard, acts on others or only carries them is nothing that becomes another thing.
UNSEEN = ("sound", "treatment", "carrier")


# With the scenes that they are of, which keeps their ids theirs.
_KEPT: dict[tuple[object, ...], tuple[Scene, Scene, dict[str, str]]] = {}
_MOST_KEPT = 64


def pairs_of(
    first: Scene, second: Scene, corrected: Mapping[str, str] | None = None
) -> dict[str, str]:
    """The layers of a scene and their counterparts in another, by their ids: by link, name, source
    or text, each once, and the lowest backdrops. ``corrected`` says otherwise of some: their
    counterpart, or "" for none. What was found of two scenes is kept: every frame asks."""
    key = (id(first), id(second), tuple((corrected or {}).items()))
    kept = _KEPT.get(key)
    if kept is None or kept[0] is not first or kept[1] is not second:
        if len(_KEPT) > _MOST_KEPT:
            _KEPT.clear()
        kept = _KEPT[key] = (first, second, _found(first, second, corrected or {}))
    return dict(kept[2])


def _found(first: Scene, second: Scene, corrected: Mapping[str, str]) -> dict[str, str]:
    ones, others = (
        [layer for layer in scene.layers if layer.kind not in UNSEEN] for scene in (first, second)
    )
    known = {layer.id for layer in others}
    found = {a: b for a, b in corrected.items() if b in known}
    settled = set(corrected)
    taken = set(found.values())
    for same in _SIGNS:
        for a in ones:
            if a.id in found or a.id in settled:
                continue
            for b in others:
                if b.id not in taken and same(a, b):
                    found[a.id] = b.id
                    taken.add(b.id)
                    break
    lowest = [[each for each in side if each.kind == "backdrop"][:1] for side in (ones, others)]
    for one, other in zip(*lowest, strict=False):
        if one.id not in found and one.id not in settled and other.id not in taken:
            found[one.id] = other.id
    # What is not anybody's counterpart is not paired with what happens to have its id.
    every = {layer.id for layer in second.layers}
    for layer in first.layers:
        if layer.id not in found and layer.id in every:
            found[layer.id] = ""
    return found
