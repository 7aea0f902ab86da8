"""The timeline of a scene as OpenTimelineIO (ASWF), for programs in which films are cut.

Every layer is a track, the lowest first, so that the stack stays as it is; what is heard is a track
of sound. Footage, pictures and sounds are clips that refer to their files by name; a placed scene
is a stack with the tracks of its own; what only this program can draw is a clip that says what made
it. Times are whole frames of the scene.
"""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import quote

import opentimelineio as otio

from ..model import Asset, Layer, Mark
from ..resolve import SceneEvaluator
from ..resolve.contents import playback_of, sound_of
from ..resolve.values import LayerValues
from ..timing import Rate
from ..timing.playback import Playback
from .telling import Telling

# A scene placed in scenes again and again grows without bound: from then on it is told by its name.
MOST_ITEMS = 5000
_OWN = "young_comet"
# Which asset a layer shows, by its kind.
_SHOWN = {"clip": "clip.asset", "picture": "picture.asset"}


def timeline_of(telling: Telling) -> str:
    """The scene over the moments of a render as an OTIO file (JSON)."""
    evaluator = telling.evaluator
    scene, (start_s, end_s) = evaluator.scene, telling.span
    teller = _Teller(telling)
    timeline = otio.schema.Timeline(name=f"{telling.project.name}: {scene.name}")
    rate = scene.rate.rate
    timeline.tracks.extend(teller.tracks(evaluator, start_s, end_s))
    for mark in scene.marks:
        if start_s <= mark.time_s <= end_s:
            timeline.tracks.markers.append(_marker(mark, mark.time_s - start_s, rate))
    timeline.metadata[_OWN] = {
        "width": scene.width, "height": scene.height, "rate": [rate.num, rate.den],
    }  # fmt: skip
    text: str = otio.adapters.write_to_string(timeline, "otio_json")
    return text


@dataclass
class _Teller:
    """Writes scenes as tracks, and counts how many things it has written."""

    telling: Telling
    items: int = 0

    def tracks(
        self, evaluator: SceneEvaluator, start_s: float, end_s: float, *, inner: bool = False
    ) -> list[otio.schema.Track]:
        """A track for each layer that is seen within a span, then one for each that is heard."""
        seen, heard = [], []
        for layer in evaluator.scene.layers:
            begin, end = max(start_s, layer.start_s), min(end_s, layer.end_s)
            drawn = inner or self.telling.drawn(layer.id)
            if layer.hidden or end - begin < 1e-6 or not drawn:
                continue
            v = evaluator.values(layer, begin)
            audio = sound_of(evaluator, v)
            if layer.kind != "sound":
                made = self._item(evaluator, v, begin, end)
                seen.append(self._track(evaluator, layer, "Video", made, begin - start_s))
            if audio is not None:
                made = self._footage(evaluator, v, audio, begin, end)
                heard.append(self._track(evaluator, layer, "Audio", made, begin - start_s))
        return [*seen, *heard]

    def _track(
        self, evaluator: SceneEvaluator, layer: Layer, kind: str, item: otio.core.Item,
        after_s: float,
    ) -> otio.schema.Track:  # fmt: skip
        """A track in which one thing begins after some seconds."""
        self.items += 1
        track = otio.schema.Track(name=layer.name, kind=kind)
        gap = _range(0.0, after_s, evaluator.scene.rate.rate)
        if gap.duration.value:
            track.append(otio.schema.Gap(source_range=gap))
        item.metadata[_OWN] = {"layer": layer.id, "kind": layer.kind, **item.metadata.get(_OWN, {})}
        track.append(item)
        return track

    def _item(
        self, evaluator: SceneEvaluator, v: LayerValues, begin: float, end: float
    ) -> otio.core.Item:
        layer, rate = v.layer, evaluator.scene.rate.rate
        shown = _SHOWN.get(layer.kind)
        asset = evaluator.asset(v(shown)) if shown else None
        if asset is not None:
            return self._footage(evaluator, v, asset, begin, end)
        if layer.kind == "scene" and self.items < MOST_ITEMS:
            inside = evaluator.inside(v)
            if inside is not None:
                stack = otio.schema.Stack(name=layer.name)
                stack.extend(self.tracks(inside, 0.0, inside.scene.length_s, inner=True))
                low = v("time.from") + v("time.offset") + begin - layer.start_s
                stack.source_range = _range(max(0.0, low), max(0.0, low) + end - begin, rate)
                return stack
        reference = otio.schema.GeneratorReference(
            name=layer.name, generator_kind=layer.kind,
            available_range=_range(0.0, layer.end_s - layer.start_s, rate),
        )  # fmt: skip
        if layer.kind == "text":
            reference.parameters["text"] = str(v("text"))
        within = _range(begin - layer.start_s, end - layer.start_s, rate)
        return otio.schema.Clip(layer.name, reference, within)

    def _footage(
        self, evaluator: SceneEvaluator, v: LayerValues, asset: Asset, begin: float, end: float
    ) -> otio.schema.Clip:
        """A clip of a file, from the second on that is shown at its beginning."""
        rate = evaluator.scene.rate.rate
        reference = otio.schema.ExternalReference(target_url=quote(asset.name))
        reference.name = asset.name
        reference.metadata[_OWN] = {"sha256": asset.hash, "media_type": asset.media_type}
        within = _range(0.0, end - begin, rate)
        clip = otio.schema.Clip(v.layer.name, reference)
        if asset.duration_s:
            reference.available_range = _range(0.0, asset.duration_s, rate)
            playback = playback_of(v, asset)
            at = playback.at(begin - v.layer.start_s)
            within = _range(at or 0.0, (at or 0.0) + end - begin, rate)
            clip.effects.extend(_pace(v, playback))
            if playback.after not in ("stay", "end"):
                clip.metadata[_OWN] = {"after": playback.after, "times": playback.times}
        clip.source_range = within
        return clip


def _pace(v: LayerValues, playback: Playback) -> list[otio.schema.TimeEffect]:
    """How fast a file is played, where it is not as it was made."""
    if v.has("time.frozen") and v("time.frozen"):
        return [otio.schema.FreezeFrame()]
    scalar = -playback.speed if playback.backwards else playback.speed
    return [] if scalar == 1 else [otio.schema.LinearTimeWarp(time_scalar=scalar)]


def _marker(mark: Mark, at_s: float, rate: Rate) -> otio.schema.Marker:
    marker = otio.schema.Marker(name=mark.name, marked_range=_range(at_s, at_s, rate))
    marker.comment = mark.note
    return marker


def _range(start_s: float, end_s: float, rate: Rate) -> otio.opentime.TimeRange:
    """From the frame that is nearest to a second to that nearest to another."""
    first, last = rate.nearest_frame(start_s), rate.nearest_frame(end_s)
    return otio.opentime.TimeRange(
        otio.opentime.RationalTime(first, rate.fps),
        otio.opentime.RationalTime(last - first, rate.fps),
    )
