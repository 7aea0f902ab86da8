"""What a typeface can do, and how given words look in it: what it is chosen by."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..geometry.affine import Box
from ..geometry.path_data import write_svg_path
from .fonts import FontLibrary, Typeface
from .lines import lay_out
from .style import Letters, TextStyle

SPECIMEN_PX = 64.0
SPECIMEN_LETTERS = 24
# Cards are small: letters that are drawn for large sizes would lose their hairlines there.
SPECIMEN_OPTICAL_PX = 24.0

# A tenth of a pixel is enough to be looked at.
_DIGITS = re.compile(r"-?\d+\.\d+(?:e-?\d+)?")

# Letters by which a script is known to be there: all of them.
_SCRIPTS: tuple[tuple[str, str], ...] = (
    ("Latin", "AZaz"),
    ("Latin extended", "ąčęłšžőć"),
    ("Greek", "ΑΩαω"),
    ("Cyrillic", "АЯая"),
    ("Hebrew", "אבת"),
    ("Arabic", "ابي"),
    ("Devanagari", "अकह"),
    ("Thai", "กขฮ"),
    ("Chinese", "中文字"),
)

# Features that are chosen for their looks (OpenType's registry), in the order in which they are
# shown; what shaping needs of a script is not asked about.
_FEATURES: tuple[tuple[str, str], ...] = (
    ("kern", "Kerning"),
    ("liga", "Ligatures"),
    ("dlig", "Rare ligatures"),
    ("hlig", "Historical ligatures"),
    ("calt", "Letters by their neighbours"),
    ("smcp", "Small capitals"),
    ("c2sc", "Small capitals for capitals"),
    ("case", "Marks for capitals"),
    ("titl", "Titling capitals"),
    ("swsh", "Swashes"),
    ("init", "First letters"),
    ("fina", "Last letters"),
    ("salt", "Other letters"),
    ("lnum", "Lining figures"),
    ("onum", "Old-style figures"),
    ("tnum", "Figures of one width"),
    ("pnum", "Figures of their own width"),
    ("zero", "Slashed zero"),
    ("frac", "Fractions"),
    ("ordn", "Ordinals"),
    ("sups", "Superiors"),
    ("subs", "Inferiors"),
)
# On unless they are said to be off (OpenType's registry: "should be active by default").
_BY_ITSELF = frozenset({"kern", "liga", "calt"})
# Looks of a face's own, told apart by numbers.
_NUMBERED = (("ss", "Set", 20), ("cv", "Variant", 99))

_AXES = {"wght": "Weight", "wdth": "Letter width", "slnt": "Slant", "opsz": "Optical size"}


@dataclass(frozen=True, slots=True)
class Feature:
    """An OpenType feature of a typeface; one ``by_itself`` is on unless it is said to be off."""

    tag: str
    label: str
    by_itself: bool = False


@dataclass(frozen=True, slots=True)
class FaceAxis:
    """An axis of a variable typeface; one of its ``own`` is none that every text has."""

    tag: str
    label: str
    least: float
    most: float
    usual: float
    own: bool


@dataclass(frozen=True, slots=True)
class FaceFacts:
    """What a typeface has: scripts by name, features, axes."""

    scripts: tuple[str, ...]
    features: tuple[Feature, ...]
    axes: tuple[FaceAxis, ...]


@dataclass(frozen=True, slots=True)
class Specimen:
    """Words as a typeface draws them: SVG path data, and the box of the line that they stand in,
    px at ``SPECIMEN_PX`` to the em."""

    path: str
    box: Box


def facts_of(typeface: Typeface) -> FaceFacts:
    """What a typeface has, over all of its files."""
    tags = frozenset[str]().union(*(face.features() for face in typeface.faces))
    axes = {
        tag: FaceAxis(tag, _AXES.get(tag, face.axis_names[tag])[:40], least, most,
                      face.axis_defaults[tag], tag not in _AXES)
        for face in typeface.faces
        for tag, (least, most) in face.axes.items()
    }  # fmt: skip
    known = [axes[tag] for tag in _AXES if tag in axes]
    own = [axis for axis in axes.values() if axis.own]
    return FaceFacts(
        tuple(name for name, letters in _SCRIPTS if _has(typeface, letters)),
        tuple(_named(tags)),
        (*known, *own),
    )


def _has(typeface: Typeface, letters: str) -> bool:
    return all(typeface.face_for(ord(letter)) for letter in letters)


def _named(tags: frozenset[str]) -> list[Feature]:
    known = [Feature(tag, label, tag in _BY_ITSELF) for tag, label in _FEATURES if tag in tags]
    numbered = [
        Feature(f"{prefix}{number:02}", f"{label} {number}")
        for prefix, label, most in _NUMBERED
        for number in range(1, most + 1)
        if f"{prefix}{number:02}" in tags
    ]
    return known + numbered


def specimen(library: FontLibrary, font_id: str, words: str, weight: float) -> Specimen:
    """The first line of words, cut where it is long, in a typeface and its nearest weight."""
    first = next((line.strip() for line in words.splitlines() if line.strip()), "")
    letters = Letters(font_id, weight=weight, size_px=SPECIMEN_PX, optical_px=SPECIMEN_OPTICAL_PX)
    layout = lay_out(library, first[:SPECIMEN_LETTERS], TextStyle(letters, align="left", side=True))
    ink = layout.outline
    a, b = layout.box, layout.box if ink.is_empty else ink.bounds
    around = (min(a[0], b[0]), min(a[1], b[1]), max(a[2], b[2]), max(a[3], b[3]))
    return Specimen(
        _DIGITS.sub(lambda found: f"{float(found[0]):.1f}", write_svg_path(ink)), around
    )
