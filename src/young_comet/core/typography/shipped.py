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
# Families asked in turn for letters that the chosen one lacks.
FALLBACKS = ("inter", "roboto-slab")


def shipped_files(family_id: str) -> list[Path]:
    """The files of a shipped family, one for each stretch of letters."""
    folder = FACES_DIR / family_id
    files = [folder / f"{script}.ttf" for script in SCRIPTS]
    return [file for file in files if file.is_file()]
