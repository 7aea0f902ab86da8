"""Names looked up and tracks made: what outlives an edit."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

from ..model import Cycle, Key, Project, Property, PropertySpec, Track
from ..pixels.colour import parse_colour
from ..timing import resolve_easing

_NONE: Mapping[str, str] = MappingProxyType({})


class Names:
    """What a project's names stand for: colours of inks, texts of saved easings. ``bound`` are
    colours that inks have in place of their own."""

    def __init__(self, project: Project, bound: Mapping[str, str] = _NONE) -> None:
        self._inks, self._easings, self._bound = project.inks, project.easings, dict(bound)
        colours = {ink.id: ink.colour for ink in project.inks} | self._bound
        self.inks = {ink_id: parse_colour(colour) for ink_id, colour in colours.items()}
        self.easings = {saved.id: saved.easing for saved in project.easings}

    def fits(self, project: Project, bound: Mapping[str, str] = _NONE) -> bool:
        """Whether the project has the same names with the same meanings."""
        if self._bound != bound:
            return False
        same = self._inks is project.inks and self._easings is project.easings
        return same or (self._inks == project.inks and self._easings == project.easings)


_NAMES: list[Names] = []


def names_of(project: Project, bound: Mapping[str, str] = _NONE) -> Names:
    """The project's names; the same object as long as they mean the same."""
    for names in _NAMES:
        if names.fits(project, bound):
            return names
    names = Names(project, bound)
    _NAMES.append(names)
    del _NAMES[:-8]
    return names


def make_track(prop: Property, spec: PropertySpec, names: Names) -> Track:
    """The track of a property with keys."""
    keys = [
        Key(
            k.time_s,
            spec.kind.resolve(k.value, names.inks),
            resolve_easing(k.easing, names.easings),
            k.handle_in or (0.0, 0.0),
            k.handle_out or (0.0, 0.0),
            k.join == "smooth",
        )
        for k in prop.keys
    ]
    cycle = Cycle(prop.repeat.mode, prop.repeat.times) if prop.repeat else None
    return Track(spec.kind, keys, cycle, even=prop.pace == "even")


class TrackCache:
    """Tracks made from properties, kept while the same property object is asked for again.

    Edits build new property objects only where something changed, so most of a document's
    tracks outlive an edit.
    """

    def __init__(self, limit: int = 20_000) -> None:
        self._limit = limit
        self._tracks: dict[tuple[int, int], tuple[Property, object, Track]] = {}

    def track(self, prop: Property, spec: PropertySpec, names: Names) -> Track:
        """The track of a property, made where it is not known."""
        key = (id(prop), id(names))
        found = self._tracks.get(key)
        if found is not None and found[0] is prop and found[1] is names:
            return found[2]
        track = make_track(prop, spec, names)
        if len(self._tracks) >= self._limit:
            self._tracks.clear()
        self._tracks[key] = (prop, names, track)
        return track
