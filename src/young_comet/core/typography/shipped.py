"""The type families that come with the program (all under open licences, see each folder)."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

FACES_DIR = Path(__file__).parent / "faces"


class Family(NamedTuple):
    """A family that is shipped: its id, its name, a word on its character, the group under which it
    is found, and the id of the family that is its italic."""

    id: str
    name: str
    character: str
    group: str = ""
    italic: str = ""


# Groups of typefaces, by what they look like at a glance.
GROUPS: tuple[tuple[str, str], ...] = (
    ("sans", "Sans serif"),
    ("narrow", "Narrow"),
    ("wide", "Wide"),
    ("serif", "Serif"),
    ("mono", "Monospaced"),
    ("written", "Written"),
)

# The order is that of the list.
SHIPPED: tuple[Family, ...] = (
    Family("inter", "Inter", "Grotesque", "sans"),
    Family("archivo", "Archivo", "Grotesque, sturdy", "sans"),
    Family("ibm-plex-sans", "IBM Plex Sans", "Plain, engineered", "sans", "ibm-plex-sans-italic"),
    Family("ibm-plex-sans-italic", "IBM Plex Sans Italic", "Plain, engineered", "sans"),
    Family("montserrat", "Montserrat", "Geometric", "sans"),
    Family("sora", "Sora", "Geometric, open", "sans"),
    Family("space-grotesk", "Space Grotesk", "Geometric, quirky", "sans"),
    Family("nunito", "Nunito", "Rounded", "sans"),
    Family("oswald", "Oswald", "Condensed", "narrow"),
    Family("big-shoulders", "Big Shoulders", "Condensed, tall", "narrow"),
    Family("league-gothic", "League Gothic", "Condensed, poster", "narrow"),
    Family("bebas-neue", "Bebas Neue", "Condensed capitals", "narrow"),
    Family("anton", "Anton", "Condensed, heavy", "narrow"),
    Family("unbounded", "Unbounded", "Wide display", "wide"),
    Family("syne", "Syne", "Wide, for logos", "wide"),
    Family("roboto-slab", "Roboto Slab", "Slab serif", "serif"),
    Family("playfair-display", "Playfair Display", "Display serif", "serif"),
    Family("bodoni-moda", "Bodoni Moda", "High contrast", "serif", "bodoni-moda-italic"),
    Family("bodoni-moda-italic", "Bodoni Moda Italic", "High contrast", "serif"),
    Family("dm-serif-display", "DM Serif Display", "Display serif, warm", "serif",
           "dm-serif-display-italic"),
    Family("dm-serif-display-italic", "DM Serif Display Italic", "Display serif, warm", "serif"),
    Family("fraunces", "Fraunces", "Old style, soft", "serif", "fraunces-italic"),
    Family("fraunces-italic", "Fraunces Italic", "Old style, soft", "serif"),
    Family("instrument-serif", "Instrument Serif", "Condensed serif", "serif",
           "instrument-serif-italic"),
    Family("instrument-serif-italic", "Instrument Serif Italic", "Condensed serif", "serif"),
    Family("source-serif", "Source Serif 4", "Text serif", "serif"),
    Family("jetbrains-mono", "JetBrains Mono", "Monospaced", "mono"),
    Family("caveat", "Caveat", "Script", "written"),
    Family("dancing-script", "Dancing Script", "Script, flowing", "written"),
    Family("pacifico", "Pacifico", "Script, bold", "written"),
    Family("permanent-marker", "Permanent Marker", "Brush", "written"),
)  # fmt: skip
# A family's files are split by script; the first is asked first.
SCRIPTS = ("all", "latin", "latin-ext", "cyrillic", "cyrillic-ext", "greek", "greek-ext")
EMOJI = "noto-emoji"
# Faces of further scripts, which are not chosen but asked for letters that the chosen one lacks.
SCRIPT_FACES: tuple[Family, ...] = (
    Family("noto-sans-hebrew", "Noto Sans Hebrew", "Hebrew"),
    Family("noto-sans-arabic", "Noto Sans Arabic", "Arabic"),
    Family("noto-sans-devanagari", "Noto Sans Devanagari", "Devanagari"),
    Family("noto-sans-thai", "Noto Sans Thai", "Thai"),
    # Outlines, in the colour of the text.
    Family(EMOJI, "Noto Emoji", "Emoji"),
)
# Families asked in turn for letters that the chosen one lacks.
FALLBACKS = ("inter", "roboto-slab", *(face.id for face in SCRIPT_FACES))
# Asked after those, where Debian's packages have them: simplified Chinese, Japanese and Korean, and
# what else is written. Of a collection the face with this number.
_FONTS_DIR = Path("/usr/share/fonts")
_INSTALLED: tuple[tuple[str, str, int], ...] = (
    ("Noto Sans CJK SC", "opentype/noto/NotoSansCJK-Regular.ttc", 2),
    ("WenQuanYi Zen Hei", "truetype/wqy/wqy-zenhei.ttc", 0),
    ("Droid Sans Fallback", "truetype/droid/DroidSansFallbackFull.ttf", 0),
    ("DejaVu Sans", "truetype/dejavu/DejaVuSans.ttf", 0),
    ("FreeSans", "truetype/freefont/FreeSans.ttf", 0),
    ("Unifont", "opentype/unifont/unifont.otf", 0),
)


def installed_fallbacks() -> list[tuple[str, Path, int]]:
    """Faces of this machine that are asked last: name, file, number in its file."""
    found = ((name, _FONTS_DIR / file, index) for name, file, index in _INSTALLED)
    return [each for each in found if each[1].is_file()]


def shipped_files(family_id: str) -> list[Path]:
    """The files of a shipped family, one for each stretch of letters."""
    folder = FACES_DIR / family_id
    files = [folder / f"{script}.ttf" for script in SCRIPTS]
    return [file for file in files if file.is_file()]
