"""Names looked up and tracks made: what outlives an edit."""

from __future__ import annotations

import math
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

import numpy as np

from ..model import Cycle, Key, Kind, Project, Property, PropertySpec, Track
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


class AddedTrack(Track):
    """A number or point along the keys of arrangements, and what the property's own have changed it
    by since their first."""

    def __init__(self, base: Track, own: Track) -> None:
        super().__init__(base.kind, base.keys)
        self._own = own

    @property
    def start_s(self) -> float:
        """When the first key of either is."""
        return min(super().start_s, self._own.start_s)

    @property
    def end_s(self) -> float:
        """When the last key of either is."""
        return max(super().end_s, self._own.end_s)

    def at(self, time_s: float) -> Any:
        """The value at a time, s from the layer's start."""
        way = self.kind.step(self._own.keys[0].value, self._own.at(time_s))
        return self.kind.add_step(super().at(time_s), way, 1.0)

    def values(self, times: np.ndarray) -> np.ndarray:
        """Values (n, d) at times (n,)."""
        first = np.atleast_1d(np.asarray(self._own.keys[0].value, np.float64))
        found: np.ndarray = super().values(times) + self._own.values(times) - first
        return found

    def direction(self, time_s: float) -> tuple[float, float]:
        """The unit vector in which a point travels; (0, 0) where it rests."""
        if self.kind is not Kind.POINT:
            return (0.0, 0.0)
        for reach in (0.002, 0.05, 0.25, 1.0, 5.0):
            a, b = self.at(time_s - reach), self.at(time_s + reach)
            size = math.dist(a, b)
            if size > 1e-6:
                return ((b[0] - a[0]) / size, (b[1] - a[1]) / size)
        return (0.0, 0.0)


def make_track(prop: Property, spec: PropertySpec, names: Names) -> Track:
    """The track of a property with keys."""
    added = getattr(prop, "added", None)
    if added is not None:
        own = make_track(added, spec, names)
        return AddedTrack(_plain_track(prop, spec, names), own)
    return _plain_track(prop, spec, names)


def _plain_track(prop: Property, spec: PropertySpec, names: Names) -> Track:
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
