"""Pictures of few colours: a palette for a whole film, and frames brought to it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import av
import numpy as np
from PIL import Image

from .still import over_ground

# The entry for what is transparent.
_NOTHING = 255
# The nearest entry is looked up by the first bits of a colour's channels.
_CELL_BITS = 6
# So many pixels of a frame tell its colours.
_SAMPLES = 16_000


@dataclass(frozen=True)
class Palette:
    """``colours`` (n, 3) uint8 red, green, blue, 255 at most: the last entry of 256 stands for what
    is transparent. Where ``clear`` is set pixels are either opaque, laid over the ``matte``, or not
    there; else all are opaque, and encoders use that entry for what stays as it was. An ``exact``
    one has every colour that was seen: nothing is dithered."""

    colours: np.ndarray
    clear: bool
    matte: str
    dither: str
    exact: bool = False

    def indices(self, pixels: np.ndarray) -> np.ndarray:
        """The entry (h, w) uint8 of each premultiplied BGRA pixel."""
        rgb = np.ascontiguousarray(over_ground(pixels, self.matte)[:, :, 2::-1])
        if self.dither == "diffused":
            image = Image.fromarray(rgb, "RGB")
            found = image.quantize(palette=self._image, dither=Image.Dither.FLOYDSTEINBERG)
            entries = np.asarray(found, np.uint8)
        else:
            if self.dither == "ordered" and not self.exact:
                rgb = _with_pattern(rgb, self._spread)
            red, green, blue = (
                rgb[:, :, c].astype(np.uint32) >> (8 - _CELL_BITS) for c in range(3)
            )
            at = (red << 2 * _CELL_BITS) | (green << _CELL_BITS) | blue
            entries = self._nearest[at]
        if self.clear:
            entries = np.where(pixels[:, :, 3] < 128, np.uint8(_NOTHING), entries)
        return np.ascontiguousarray(entries)

    def frame(self, pixels: np.ndarray) -> av.VideoFrame:
        """A frame as encoders of few colours take it."""
        table = np.full((256, 4), 255, np.uint8)  # alpha, red, green, blue
        table[: len(self.colours), 1:] = self.colours
        table[len(self.colours) :, 1:] = self.colours[-1]
        table[_NOTHING] = 0
        given: Any = (self.indices(pixels), table)
        return av.VideoFrame.from_ndarray(given, format="pal8")

    @cached_property
    def _spread(self) -> float:
        """How far the pattern moves a channel: as far as colours of the palette mostly lie from
        their nearest."""
        known = self.colours.astype(np.float32)
        apart = np.square(known[:, None] - known[None]).sum(axis=2)
        np.fill_diagonal(apart, np.inf)
        return min(24.0, float(np.median(np.sqrt(apart.min(axis=1)))))

    @cached_property
    def _image(self) -> Image.Image:
        image = Image.new("P", (1, 1))
        image.putpalette(self.colours.reshape(-1).tolist())
        return image

    @cached_property
    def _nearest(self) -> np.ndarray:
        """The entry of each cell of the cube of colours: the nearest to its middle, and for the
        cells in which there are some, one of these."""
        side = 1 << _CELL_BITS
        middles = (np.arange(side, dtype=np.float32) + 0.5) * (256 / side) - 0.5
        known = self.colours.astype(np.float32)
        found = np.empty((side, side, side), np.uint8)
        away = [np.square(middles[:, None] - known[None, :, c]) for c in range(3)]
        for red in range(side):
            far = away[0][red][None, None] + away[1][:, None] + away[2][None]
            found[red] = far.argmin(axis=2)
        cells = self.colours >> (8 - _CELL_BITS)
        found[cells[:, 0], cells[:, 1], cells[:, 2]] = np.arange(len(self.colours))
        return found.reshape(-1)


def palette_of(
    frames: Iterable[np.ndarray], count: int, *, clear: bool, matte: str, dither: str
) -> Palette:
    """The palette of so many colours (one of them for what is transparent) that is nearest to the
    colours of some premultiplied BGRA frames: median cut, then means."""
    rows = []
    for pixels in frames:
        step = max(1, int((pixels.shape[0] * pixels.shape[1] / _SAMPLES) ** 0.5))
        some = np.ascontiguousarray(pixels[::step, ::step])
        seen = over_ground(some, matte)[:, :, 2::-1].reshape(-1, 3)
        rows.append(seen[some[:, :, 3].reshape(-1) >= 128] if clear else seen)
    found = np.concatenate(rows) if rows else np.zeros((0, 3), np.uint8)
    if not len(found):
        found = np.zeros((1, 3), np.uint8)
    most = max(1, min(count, 256) - 1)
    unique = _each_once(found)
    exact = len(unique) <= most
    if not exact:
        line = Image.fromarray(np.ascontiguousarray(found[None]), "RGB")
        cut = line.quantize(most, method=Image.Quantize.MEDIANCUT, kmeans=1)
        unique = _each_once(np.array(cut.getpalette(), np.uint8).reshape(-1, 3)[:most])
    return Palette(unique, clear, matte, dither, exact)


def _each_once(colours: np.ndarray) -> np.ndarray:
    """The different ones of colours (n, 3), in order."""
    wide = colours.astype(np.uint32)
    packed = np.unique(wide[:, 0] << 16 | wide[:, 1] << 8 | wide[:, 2])
    return np.stack([packed >> 16, packed >> 8 & 255, packed & 255], axis=1).astype(np.uint8)


def _with_pattern(rgb: np.ndarray, spread: float) -> np.ndarray:
    """Colours moved up or down by a pattern that stands still and shows no lattice."""
    moved = rgb + _pattern(rgb.shape[0], rgb.shape[1], spread)
    result: np.ndarray = np.clip(moved, 0, 255, out=moved).astype(np.uint8)
    return result


@lru_cache(maxsize=2)
def _pattern(height: int, width: int, spread: float) -> np.ndarray:
    """How far each channel (h, w, 3) int16 is moved, -spread / 2 to spread / 2: interleaved
    gradient noise (Jimenez, *Next Generation Post Processing*, SIGGRAPH 2014), each its own."""
    y, x = np.ogrid[:height, :width]
    moved = np.empty((height, width, 3), np.int16)
    for channel, shift in enumerate((0.0, 5.588238, 11.176476)):
        inner = np.mod(0.06711056 * (x + shift) + 0.00583715 * (y + shift), 1.0)
        noise = np.mod(52.9829189 * inner, 1.0) - 0.5
        moved[:, :, channel] = np.rint(noise * spread)
    return moved
