"""The type families that come with the program (all under open licences, see each folder)."""

from __future__ import annotations

from pathlib import Path

FACES_DIR = Path(__file__).parent / "faces"

# id, name, character, Latin first: a family's files are split by script.
SHIPPED: tuple[tuple[str, str, str], ...] = (
    ("inter", "Inter", "Grotesque"),
    ("archivo", "Archivo", "Grotesque, sturdy"),
    ("montserrat", "Montserrat", "Geometric"),
    ("nunito", "Nunito", "Rounded"),
    ("oswald", "Oswald", "Condensed"),
    ("unbounded", "Unbounded", "Wide display"),
    ("roboto-slab", "Roboto Slab", "Slab serif"),
    ("playfair-display", "Playfair Display", "Display serif"),
    ("source-serif", "Source Serif 4", "Text serif"),
    ("jetbrains-mono", "JetBrains Mono", "Monospaced"),
    ("caveat", "Caveat", "Script"),
    ("permanent-marker", "Permanent Marker", "Brush"),
)
SCRIPTS = ("all", "latin", "latin-ext", "cyrillic", "cyrillic-ext", "greek", "greek-ext")
# Faces of further scripts, which are not chosen but asked for letters that the chosen one lacks.
SCRIPT_FACES: tuple[tuple[str, str, str], ...] = (
    ("noto-sans-hebrew", "Noto Sans Hebrew", "Hebrew"),
    ("noto-sans-arabic", "Noto Sans Arabic", "Arabic"),
    ("noto-sans-devanagari", "Noto Sans Devanagari", "Devanagari"),
    ("noto-sans-thai", "Noto Sans Thai", "Thai"),
)
# Families asked in turn for letters that the chosen one lacks.
FALLBACKS = ("inter", "roboto-slab", *(face[0] for face in SCRIPT_FACES))
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
