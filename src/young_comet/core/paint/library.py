"""Decoded media and set texts, kept within a memory limit."""

from __future__ import annotations

import math
from collections import OrderedDict
from typing import Protocol

import numpy as np

from ...errors import MediaError, RenderError
from ..audio import Bands, Ears
from ..frame.contents import ClipContent, PictureContent
from ..frame.faults import FaultLog
from ..media import Footage, decode_picture, draw_svg, index_at, open_footage, read_cube
from ..pixels.cache import SizedCache
from ..pixels.resample import MipPyramid
from ..typography.along import TextPath
from ..typography.layout import TextLayout
from ..typography.setting import SetTexts
from ..typography.shipped import FACES_DIR
from ..typography.style import TextStyle
from .kept import KeptStack

# Pictures of layers drawn for a frame: so many, and so many more for each of its layers.
MAX_PICTURES, MAX_PICTURES_EACH = 1_000, 8
MAX_SVG_SIDE = 8192
# A vector picture that costs too much is shown as it is at this scale at least.
SMALLEST_DRAWING = 1 / 64
OPEN_CLIPS = 4
# Inner scenes that are drawn at different places, each with the lower part of its stack kept.
OPEN_STACKS = 24


class AssetReader(Protocol):
    """Where the bytes of assets come from."""

    def read_asset(self, hash: str) -> bytes:
        """Must. The bytes of that hash; raises NotFoundError."""
        ...


class DrawingStore(Protocol):
    """Where vector pictures are drawn, apart from this process, and kept from one to the next:
    drawing one again may take a second."""

    def drawing(self, hash: str, scale: float) -> np.ndarray:
        """Must. Premultiplied BGRA pixels of an asset at a scale; raises NotFoundError, or
        MediaError where it cannot be drawn or costs too much."""
        ...


class NoAssets:
    """A reader where there are no files."""

    def read_asset(self, hash: str) -> bytes:
        """Nothing is there: FileNotFoundError."""
        raise FileNotFoundError(hash)


class MediaLibrary:
    """What the renderer needs besides the resolved frame: pictures and set texts."""

    def __init__(
        self,
        reader: AssetReader,
        *,
        drawings: DrawingStore | None = None,
        limit_bytes: int = 400 * 2**20,
    ) -> None:
        self._reader, self._drawings = reader, drawings
        self.texts = SetTexts(reader.read_asset)
        self.fonts = self.texts.fonts
        self._pictures = SizedCache(limit_bytes * 3 // 5)
        # Frames of clips come and go: they must not push the pictures out.
        self.frames = SizedCache(limit_bytes // 5)
        self._heard = SizedCache(32 * 2**20)
        self._tables = SizedCache(16 * 2**20)
        # Pictures of layers of scenes within scenes.
        self.nested = SizedCache(limit_bytes // 5)
        self._stacks: OrderedDict[object, KeptStack] = OrderedDict()
        self._clips: OrderedDict[str, Footage] = OrderedDict()
        # Vector pictures that could not be drawn at a scale, within the time for it.
        self._too_costly: dict[str, float] = {}
        self._pictures_left = MAX_PICTURES
        # What could not be drawn, told by whoever draws with this library.
        self.faults = FaultLog()

    def begin_frame(self, layers: int) -> None:
        """A frame of so many layers begins: it may ask for so many pictures of them."""
        self._pictures_left = MAX_PICTURES + MAX_PICTURES_EACH * layers

    def count_picture(self) -> None:
        """One more picture of a layer; RenderError beyond the last of a frame."""
        self._pictures_left -= 1
        if self._pictures_left < 0:
            raise RenderError(
                "this frame asks for too many pictures: mattes and inputs need each other again "
                "and again"
            )

    def text(self, text: str, style: TextStyle) -> TextLayout:
        """The set text; an equal text in an equal style is set once."""
        return self.texts.text(text, style)

    def laid_out(self, text: str, style: TextStyle, along: TextPath | None) -> TextLayout:
        """A text, set, and led along its path where it has one."""
        return self.texts.laid_out(text, style, along)

    def picture(self, content: PictureContent, scale: float) -> MipPyramid:
        """Pixels of a picture. A vector one is drawn for the scale it will be shown at.

        ``scale`` is the factor from natural size to output pixels. Vector pictures are drawn
        at the next of a fixed series of sizes, so that the result depends on the scale alone.
        """
        if not content.vector:
            key: tuple[str, float] = (content.hash, 1.0)
        else:
            most = MAX_SVG_SIDE / max(*content.natural)
            # Never magnified, and never at the scale it is shown at: its lines then stay as sharp
            # as they are when the next size is taken.
            bucket = 2.0 ** math.ceil(math.log2(max(scale, 1 / 64)) + 0.25)
            key = (content.hash, min(bucket, most))
        mips = self._pictures.get(key)
        if mips is None:
            if content.vector:
                pixels = self._drawing(content.hash, key[1])
            else:
                pixels = decode_picture(self._reader.read_asset(content.hash))
            mips = MipPyramid(pixels)
        self._pictures.put(key, mips, int(mips.nbytes * 4 / 3))  # it may have grown since
        return mips

    def _drawing(self, hash: str, scale: float) -> np.ndarray:
        """Pixels of a vector picture at a scale, drawn once and then kept. Where it costs too much
        at that scale, at a smaller one; MediaError where it costs too much at any."""
        if self._drawings is None:
            return draw_svg(self._reader.read_asset(hash), scale, FACES_DIR)
        tried = self._too_costly.get(hash)
        while tried is None or scale < tried:
            try:
                return self._drawings.drawing(hash, scale)
            except MediaError:
                tried = self._too_costly[hash] = scale
            if scale <= SMALLEST_DRAWING:
                break
            scale = max(SMALLEST_DRAWING, scale / 8)
        if tried > SMALLEST_DRAWING:
            return self._drawings.drawing(hash, SMALLEST_DRAWING)
        raise MediaError("it takes too long to draw")

    def table(self, hash: str) -> np.ndarray | None:
        """A colour table (n, n, n, 3) by its hash; None where there is none."""
        if not hash:
            return None
        table = self._tables.get(hash)
        if table is None:
            table = read_cube(self._reader.read_asset(hash))
            self._tables.put(hash, table, int(table.nbytes))
        return table

    def bands(self, hash: str) -> Bands:
        """How loud the bands of a sound are over time."""
        found = self._heard.get(hash)
        if found is None:
            if not isinstance(self._reader, Ears):
                raise MediaError("there are no sounds here")
            found = self._reader.bands(hash)
            self._heard.put(hash, found, found.levels.nbytes * 4)
        return found

    def clip(self, content: ClipContent) -> MipPyramid:
        """Pixels of the frame of a clip."""
        footage = self.footage(content.hash)
        index = index_at(footage.times, content.moment_s)
        key = (content.hash, index)
        mips = self.frames.get(key)
        if mips is None:
            mips = MipPyramid(footage.frame(index))
        self.frames.put(key, mips, int(mips.nbytes * 4 / 3))
        return mips

    def stack_of(self, place: object) -> KeptStack:
        """What is kept of the stack of an inner scene that is drawn at a place."""
        if place not in self._stacks:
            self._stacks[place] = KeptStack(self.nested)
            while len(self._stacks) > OPEN_STACKS:
                self._stacks.popitem(last=False)
        self._stacks.move_to_end(place)
        return self._stacks[place]

    def footage(self, hash: str) -> Footage:
        """The opened file of a clip; the ones used last stay open."""
        if hash not in self._clips:
            self._clips[hash] = open_footage(self._reader.read_asset(hash))
            if len(self._clips) > OPEN_CLIPS:
                self._clips.popitem(last=False)
        self._clips.move_to_end(hash)
        return self._clips[hash]
