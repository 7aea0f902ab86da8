"""Typefaces: shipped ones and uploaded files. The only door to HarfBuzz's fonts."""

from __future__ import annotations

import io
import threading
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import uharfbuzz as hb
from fontTools.ttLib import TTFont

from ...errors import MediaError
from ..geometry.outline import Outline, OutlinePen
from .shipped import FALLBACKS, SCRIPT_FACES, SHIPPED, installed_fallbacks, shipped_files
from .style import Letters

Variation = tuple[tuple[str, float], ...]

# HarfBuzz's index of what a script has for languages of which it says nothing.
_DEFAULT_LANGUAGE = 0xFFFF
MAX_FONT_BYTES = 40 * 1024 * 1024
_MAGIC = (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOF2", b"wOFF")


@dataclass(frozen=True, slots=True)
class FontInfo:
    """What an uploaded font says about itself."""

    family: str
    weights: tuple[float, float]
    glyph_count: int


def check_font(data: bytes) -> tuple[FontInfo, bytes]:
    """Opens an uploaded TTF, OTF, WOFF or WOFF2; returns its facts and plain OpenType bytes.

    Raises MediaError unless it has a character map and outlines that HarfBuzz can draw.
    """
    if len(data) > MAX_FONT_BYTES:
        raise MediaError(f"the font has more than {MAX_FONT_BYTES // 2**20} MB")
    if data[:4] not in _MAGIC:
        raise MediaError("this is no TTF, OTF, WOFF or WOFF2 font")
    try:
        font = TTFont(io.BytesIO(data), lazy=False)
        names = font["name"]
        family = names.getBestFamilyName() or "Unnamed font"
        glyph_count = len(font.getGlyphOrder())
        characters = font.getBestCmap() or {}
        weights = (400.0, 400.0)
        if "fvar" in font:
            for axis in font["fvar"].axes:
                if axis.axisTag == "wght":
                    weights = (float(axis.minValue), float(axis.maxValue))
        if font.flavor is not None:
            font.flavor = None
            target = io.BytesIO()
            font.save(target)
            data = target.getvalue()
        face = Face(data)
        glyph = face.glyph_of(next(iter(characters)))
        face.outline(glyph or 0, ())
    except Exception as error:  # fontTools raises errors of many kinds for broken files
        raise MediaError(f"this font cannot be read ({type(error).__name__}: {error})") from error
    return FontInfo(str(family)[:100], weights, glyph_count), data


class Face:
    """One font file, read by HarfBuzz; variations are (tag, value) pairs."""

    def __init__(self, data: bytes, index: int = 0) -> None:
        self._face = hb.Face(hb.Blob(data), index)
        self.upem = self._face.upem
        self._nominal = hb.Font(self._face)
        self._fonts: dict[Variation, hb.Font] = {}
        self._outlines: dict[tuple[int, Variation], Outline] = {}
        self.axes = {axis.tag: (axis.min_value, axis.max_value) for axis in self._face.axis_infos}
        self.axis_names = {
            axis.tag: self._face.get_name(axis.name_id) or axis.tag
            for axis in self._face.axis_infos
        }
        self.axis_defaults = {axis.tag: axis.default_value for axis in self._face.axis_infos}
        self._extents: dict[Variation, tuple[float, float, float]] = {}

    def glyph_of(self, codepoint: int) -> int | None:
        """The glyph of a character, None where it has none."""
        result: int | None = self._nominal.get_nominal_glyph(codepoint)
        return result

    def features(self) -> frozenset[str]:
        """The tags of all OpenType features that its letters can have, of all scripts."""
        face = self._face
        found: set[str] = set()
        for table in ("GSUB", "GPOS"):
            for script in range(len(face.get_table_script_tags(table))):
                languages = range(len(face.get_script_language_tags(table, script)))
                for language in (_DEFAULT_LANGUAGE, *languages):
                    found.update(face.get_language_feature_tags(table, script, language))
        return frozenset(found)

    def variation(self, letters: Letters) -> Variation:
        """The values of those axes that the face has: weight, width, slant, optical size, and those
        of its own that the letters name."""
        wanted = dict(letters.axes) | {
            "wght": letters.weight,
            "wdth": letters.width,
            "slnt": -letters.slant_deg,
            "opsz": letters.optical_px or letters.size_px,
        }
        return tuple(
            (tag, min(high, max(low, wanted[tag])))
            for tag, (low, high) in self.axes.items()
            if tag in wanted
        )

    def font(self, variation: Variation) -> hb.Font:
        """HarfBuzz's font at one place of the design space, in units of the em."""
        if variation not in self._fonts:
            if len(self._fonts) > 512:  # an animated weight makes many
                self._fonts.clear()
            font = hb.Font(self._face)
            if variation:
                font.set_variations(dict(variation))
            self._fonts[variation] = font
        return self._fonts[variation]

    def extents(self, variation: Variation) -> tuple[float, float, float]:
        """Ascent, descent and cap height over and under the baseline, in parts of the em. A face
        that does not say how high its capitals are has an H, or 0.7."""
        if variation not in self._extents:
            if len(self._extents) > 64:
                self._extents.clear()
            font = self.font(variation)
            lines = font.get_font_extents("ltr")
            capital = self.glyph_of(ord("H"))
            high = -self.outline(capital, variation).bounds[1] if capital else 0.7 * self.upem
            self._extents[variation] = (
                lines.ascender / self.upem, -lines.descender / self.upem, high / self.upem,
            )  # fmt: skip
        return self._extents[variation]

    def outline(self, glyph: int, variation: Variation) -> Outline:
        """A glyph's outline in font units, y down."""
        key = (glyph, variation)
        if key not in self._outlines:
            if len(self._outlines) > 12_000:
                self._outlines.clear()
            pen = OutlinePen(flip=True)
            self.font(variation).draw_glyph_with_pen(glyph, pen)
            self._outlines[key] = Outline(pen.path)
        return self._outlines[key]


def _installed() -> list[Typeface]:
    found = (_opened(*each) for each in installed_fallbacks())
    return [typeface for typeface in found if typeface is not None]


def _opened(name: str, path: Path, index: int) -> Typeface | None:
    """A face that is installed on this machine; None where it cannot be read."""
    try:
        return Typeface(f"installed:{path.name}", name, "", (Face(path.read_bytes(), index),))
    except Exception:  # noqa: BLE001  # a damaged file must not lose the text
        return None


@dataclass(frozen=True)
class Typeface:
    """A family: its files in the order in which they are asked for a letter."""

    id: str
    name: str
    character: str
    faces: tuple[Face, ...]

    def face_for(self, codepoint: int) -> Face | None:
        """The first face that has a character, None where none has it."""
        return next((face for face in self.faces if face.glyph_of(codepoint)), None)


class FontLibrary:
    """Finds typefaces by id: a shipped family's id or ``asset:HASH`` of an uploaded file.

    ``read_asset`` gives the bytes of a hash. Faces are opened when first needed and kept.
    Safe to use from several threads.
    """

    def __init__(self, read_asset: Callable[[str], bytes] | None = None) -> None:
        self._read_asset = read_asset
        self._typefaces: dict[str, Typeface] = {}
        # Uploaded ones that could not be opened, with the reason; how many were opened later.
        self.failed: dict[str, str] = {}
        self.opened_late = 0
        self.lock = threading.RLock()
        # The faces of letters, by font, letter and how many fonts were opened late.
        self.faces_found: dict[tuple[str, str, int], Face] = {}
        self._fallbacks: list[Typeface] | None = None

    def typeface(self, font_id: str) -> Typeface:
        """The typeface, or the first shipped one where the id is unknown or unreadable."""
        with self.lock:
            if font_id not in self._typefaces:
                self._typefaces[font_id] = self._open(font_id)
            return self._typefaces[font_id]

    def try_again(self, font_id: str) -> None:
        """Opens a typeface whose file may have come back."""
        if font_id not in self.failed:
            return
        with self.lock:
            opened = self._open(font_id)
            if font_id not in self.failed:
                self._typefaces[font_id] = opened
                self.opened_late += 1

    def fallbacks(self) -> list[Typeface]:
        """Typefaces that are asked in turn for letters that the chosen one lacks."""
        with self.lock:
            if self._fallbacks is None:
                shipped = [self.typeface(family) for family in FALLBACKS]
                self._fallbacks = [*shipped, *_installed()]
            return self._fallbacks

    def _open(self, font_id: str) -> Typeface:
        for family in (*SHIPPED, *SCRIPT_FACES):
            if family.id == font_id:
                faces = tuple(Face(file.read_bytes()) for file in shipped_files(family.id))
                return Typeface(family.id, family.name, family.character, faces)
        if font_id.startswith("asset:") and self._read_asset is not None:
            try:
                faces = (Face(self._read_asset(font_id[6:])),)
            except Exception as error:  # a missing or damaged file must not lose the text  # noqa: BLE001
                self.failed[font_id] = str(error) or type(error).__name__
            else:
                self.failed.pop(font_id, None)
                return Typeface(font_id, font_id, "", faces)
        return self.typeface(SHIPPED[0].id)
