"""The mix of a scene: every voice with its gain, pan, fades and duck, summed.

Any stretch can be asked for and gives the same samples, whatever was asked for before.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ...errors import MediaError, YoungCometError
from ..audio import CHANNELS, amplitude, balance, faded, sample_at
from ..audio.gains import SILENT_DB
from ..audio.samples import SAMPLE_RATE
from ..model import Layer, Project
from ..resolve import SceneEvaluator
from ..resolve.contents import sound_of
from ..resolve.values import LayerValues
from .ducking import BLOCK, Heard, heard_where, loudness_in_blocks
from .places import (
    Places,
    Shifted,
    curve_of,
    kept_pitch,
    scene_places,
    sound_places,
    stretched_places,
)
from .sources import Recorded, Sounds, Source

# A mix is made in stretches of so many samples: what it needs at once stays small.
_STRETCH = 1 << 16
_KEPT = 4
_WHOLE = _STRETCH // BLOCK * BLOCK


@dataclass(frozen=True)
class Voice:
    """A layer that is heard, from the sample ``start`` to ``end`` of the scene. Where it crosses
    with another it comes or goes between two samples (``comes``, ``goes``), also beyond its span
    where its source goes on."""

    layer: Layer
    values: LayerValues
    source: Source
    places: Places
    start: int
    end: int
    comes: tuple[int, int] | None = None
    goes: tuple[int, int] | None = None

    @property
    def heard(self) -> tuple[int, int]:
        """From which sample of the scene to which it may be heard."""
        if not isinstance(self.places, Shifted):
            return (self.start, self.end)
        return (self.comes or (self.start,))[0], (self.goes or (self.end,))[-1]

    def crossing(self, at: np.ndarray) -> np.ndarray:
        """The factors (n,) by which it comes and goes at samples (n,) of the scene: two that cross
        have one power together."""
        factors = np.ones(len(at))
        for span, turned in ((self.comes, False), (self.goes, True)):
            if span is not None:
                share = np.clip((at - span[0]) / max(1, span[1] - span[0]), 0.0, 1.0)
                factors *= np.sin((1 - share if turned else share) * (np.pi / 2))
        return factors


class SceneMix:
    """What is heard of a scene. What cannot be read is silent and named in ``faults``: the layer's
    id and why."""

    def __init__(self, evaluator: SceneEvaluator, sounds: Sounds) -> None:
        self.evaluator, self._sounds = evaluator, sounds
        self.faults: dict[str, str] = {}
        self._heard: dict[str, Heard] = {}
        self._kept: dict[int, np.ndarray] = {}
        self.voices: dict[str, Voice] = {}
        for layer in evaluator.scene.layers:
            try:
                voice = self._voice(layer)
            except (YoungCometError, ValueError) as error:
                self.faults[layer.id] = str(error)
                continue
            if voice is not None:
                self.voices[layer.id] = voice
        for meeting in evaluator.meetings:
            span = (sample_at(meeting.begin_s), sample_at(meeting.end_s))
            if goes := self.voices.get(meeting.first.id):
                self.voices[goes.layer.id] = replace(goes, goes=span)
            if comes := self.voices.get(meeting.second.id):
                self.voices[comes.layer.id] = replace(comes, comes=span)

    @classmethod
    def of(cls, project: Project, scene_id: str, sounds: Sounds) -> SceneMix:
        """The mix of a scene of a project."""
        return cls(SceneEvaluator(project, scene_id), sounds)

    @property
    def length(self) -> int:
        """How many samples the scene is long."""
        return sample_at(self.evaluator.scene.length_s)

    def read(self, first: int, count: int) -> np.ndarray:
        """So many samples from one on, float64 (count, 2); silent beyond the scene."""
        out = np.zeros((count, CHANNELS))
        low, high = max(0, first), min(self.length, first + count)
        for number in range(low // _STRETCH, -(-high // _STRETCH)):
            begin = number * _STRETCH
            a, b = max(low, begin), min(high, begin + _STRETCH)
            out[a - first : b - first] = self._stretch(number)[a - begin : b - begin]
        return out

    def _stretch(self, number: int) -> np.ndarray:
        """The mix of a stretch; always whole, so that it is the same however much is read."""
        found = self._kept.get(number)
        if found is None:
            found = np.zeros((_STRETCH, CHANNELS))
            for voice in self.voices.values():
                self._add(voice, number * _STRETCH, found)
            self._kept[number] = found
            while len(self._kept) > _KEPT:
                del self._kept[next(iter(self._kept))]
        return found

    def samples(self, first: int, count: int) -> np.ndarray:
        """As ``read``, float32."""
        return self.read(first, count).astype(np.float32)

    def _add(self, voice: Voice, begin: int, into: np.ndarray, *, ducked: bool = True) -> None:
        """Adds a voice to the samples from ``begin`` on."""
        first, last = voice.heard
        low, high = max(first, begin), min(last, begin + len(into))
        if high <= low:
            return
        self.evaluator.budget.renew()
        v = voice.values
        local = np.arange(low - voice.start, high - voice.start) / SAMPLE_RATE
        at = np.arange(low, high)
        gain = self._gain(voice, local, at, ducked)
        if not gain.any():
            return
        samples = voice.places.play(voice.source, low - voice.start, high - low)
        into[low - begin : high - begin] += samples * gain[:, None] * _sides(v, local)

    def gain_at(self, voice: Voice, local: np.ndarray) -> np.ndarray:
        """The factors (n,) of a voice at samples of its layer, in rising order."""
        self.evaluator.budget.renew()
        return self._gain(voice, local / SAMPLE_RATE, voice.start + local, True)

    def _gain(self, voice: Voice, local: np.ndarray, at: np.ndarray, ducked: bool) -> np.ndarray:
        """The factors (n,) of a voice at seconds of its layer, which are the scene's samples
        ``at``."""
        v = voice.values
        if v("sound.muted"):
            return np.zeros(len(local))
        gain: np.ndarray = _factors(curve_of(v, "sound.gain", local))
        fades = [(v(f"sound.fade-{end}"), v(f"sound.fade-{end}-shape")) for end in ("in", "out")]
        length_s = (voice.end - voice.start) / SAMPLE_RATE
        gain = gain * faded(local, length_s, *fades) * voice.crossing(at)
        other = self.voices.get(v("sound.duck-under")) if ducked else None
        if other is not None and other is not voice:
            near = self._heard_of(other).nearness(
                at, v("sound.duck-attack"), v("sound.duck-release")
            )
            gain = gain * 10 ** (-curve_of(v, "sound.duck-by", local) * near / 20)
        return gain

    def _heard_of(self, voice: Voice) -> Heard:
        """When a voice is heard, its own ducking left out: two may duck under each other."""
        if voice.layer.id not in self._heard:
            found = []
            first, last = voice.heard
            for begin in range(first, last, _WHOLE):
                size = min(_WHOLE, last - begin)
                piece = np.zeros((size, CHANNELS))
                self._add(voice, begin, piece, ducked=False)
                found.append(loudness_in_blocks(piece))
            blocks = np.concatenate(found) if found else np.zeros(0)
            self._heard[voice.layer.id] = heard_where(blocks, first)
        return self._heard[voice.layer.id]

    def _voice(self, layer: Layer) -> Voice | None:
        if layer.hidden or layer.kind not in ("sound", "clip", "scene"):
            return None
        v = self.evaluator.values(layer, layer.start_s)
        start, end = sample_at(layer.start_s), sample_at(layer.end_s)
        if layer.kind == "scene":
            inner = self.evaluator.inside(v)
            if inner is None:
                return None
            mix = SceneMix(inner, self._sounds)
            if mix.faults:
                self.faults[layer.id] = "; ".join(mix.faults.values())
            if not mix.voices:
                return None
            return Voice(layer, v, mix, scene_places(v, inner.scene), start, end)
        asset = sound_of(self.evaluator, v)
        if asset is None:
            return None
        try:
            source = Recorded(self._sounds.sound(asset.hash))
        except MediaError:
            if asset.channels:
                raise
            return None  # a clip of which it was not known whether it has sound
        return Voice(layer, v, source, self._places(v, asset.hash, source.length), start, end)

    def _places(self, v: LayerValues, hash: str, length: int) -> Places:
        speed = kept_pitch(v)
        if speed is None:
            return sound_places(v, length)
        longer = Recorded(self._sounds.stretched(hash, speed))
        return stretched_places(v, length, speed, longer)


def is_heard(evaluator: SceneEvaluator) -> bool:
    """Whether anything of a scene may be heard: no file is read for that."""
    for layer in evaluator.scene.layers:
        if layer.hidden or layer.kind not in ("sound", "clip", "scene"):
            continue
        v = evaluator.values(layer, layer.start_s)
        if layer.kind != "scene":
            if sound_of(evaluator, v) is not None:
                return True
            continue
        inner = evaluator.inside(v)
        if inner is not None and is_heard(inner):
            return True
    return False


def _factors(db: np.ndarray) -> np.ndarray:
    """The factors of gains (n,) in dB."""
    if len(db) and (db == db[0]).all():
        return np.full(len(db), amplitude(float(db[0])))
    return np.where(db <= SILENT_DB, 0.0, 10.0 ** (db / 20.0))


def _sides(v: LayerValues, local: np.ndarray) -> np.ndarray:
    """The factors (n, 2) of left and right."""
    if not _varies(v, "sound.pan"):
        return np.array([balance(v("sound.pan") / 100)])
    pan = curve_of(v, "sound.pan", local) / 100
    away = np.cos(np.clip(np.abs(pan), 0, 1) * (np.pi / 2))
    return np.stack([np.where(pan > 0, away, 1.0), np.where(pan < 0, away, 1.0)], axis=1)


def _varies(v: LayerValues, name: str) -> bool:
    prop = v.layer.properties.get(name)
    return prop is not None and bool(prop.keys or prop.expression)
