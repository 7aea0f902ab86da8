"""Draws the rooms of the program and the doors between them from the imports: docs/rooms.svg.

    .venv/bin/python tools/rooms.py

An arrow leads from a room to one that it uses, unless a way by other rooms leads there as well.
"""

from __future__ import annotations

from pathlib import Path

import grimp

ROOT = Path(__file__).resolve().parent.parent
TARGET = ROOT / "docs" / "rooms.svg"

# From above down; what stands in one row does not use each other.
ROWS = (
    ("cli",),
    ("web", "demo"),
    ("jobs",),
    ("store",),
    ("reading", "edits"),
    ("core.export", "core.views"),
    ("core.paint",),
    ("core.plan", "core.resolve"),
    ("core.frame",),
    ("core.catalog",),
    ("core.typography", "core.media", "core.effects", "core.moves", "core.motion"),
    ("core.expressions",),
    ("core.model",),
    ("core.timing", "core.geometry", "core.pixels"),
)
WHAT = {
    "cli": "the command line", "web": "pages, API, live sessions", "demo": "the sample project",
    "jobs": "renders, playback", "store": "data folder, history", "reading": "files from strangers",
    "edits": "typed operations", "core.export": "MP4, PNG, JPEG",
    "core.views": "lanes, picks, matches", "core.paint": "passes to pixels",
    "core.plan": "frame to passes", "core.resolve": "document to frame",
    "core.frame": "every value known", "core.catalog": "what there is, checks",
    "core.typography": "faces, setting", "core.media": "pictures, footage, SVG",
    "core.effects": "a registry", "core.moves": "a registry", "core.motion": "courses as keys",
    "core.expressions": "formulas", "core.model": "document, kinds, tracks",
    "core.timing": "rates, easings", "core.geometry": "maps, paths", "core.pixels": "rasters, loops",
}  # fmt: skip
WIDE, HIGH, GAP, STEP = 168, 46, 26, 84
INK, LINE, GROUND, ROOM, CORE = "#ecebf2", "#7d86a8", "#171823", "#262838", "#1e2030"


def graph() -> tuple[dict[str, int], dict[str, set[str]]]:
    """How many modules each room has, and the rooms that it uses."""
    built = grimp.build_graph("young_comet", cache_dir=None)
    rooms = [room for row in ROWS for room in row]

    def room_of(module: str) -> str | None:
        name = module.removeprefix("young_comet.")
        return next((r for r in rooms if name == r or name.startswith(f"{r}.")), None)

    sizes = dict.fromkeys(rooms, 0)
    uses: dict[str, set[str]] = {room: set() for room in rooms}
    for module in built.modules:
        room = room_of(module)
        if room is None:
            continue
        sizes[room] += 1
        for other in built.find_modules_directly_imported_by(module):
            there = room_of(other)
            if there is not None and there != room:
                uses[room].add(there)
    return sizes, uses


def doors(uses: dict[str, set[str]]) -> list[tuple[str, str]]:
    """The uses that no longer way stands for."""

    def reached(room: str, seen: set[str]) -> set[str]:
        for other in uses[room] - seen:
            seen.add(other)
            reached(other, seen)
        return seen

    beyond = {room: reached(room, set()) for room in uses}
    return sorted(
        (room, other)
        for room in uses
        for other in uses[room]
        if not any(other in beyond[by] for by in uses[room] if by != other)
    )


def drawn() -> str:
    """The picture as SVG."""
    sizes, uses = graph()
    most = max(len(row) for row in ROWS)
    width = most * (WIDE + GAP) + GAP
    places: dict[str, tuple[float, float]] = {}
    for number, row in enumerate(ROWS):
        left = (width - len(row) * (WIDE + GAP) + GAP) / 2
        for index, room in enumerate(row):
            places[room] = (left + index * (WIDE + GAP), 30 + number * STEP)
    height = 30 + len(ROWS) * STEP
    first = next(i for i, row in enumerate(ROWS) if row[0].startswith("core."))
    top = 30 + first * STEP - 24
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" '
        f'font-family="Inter, sans-serif" font-size="14" fill="{INK}">',
        f'<rect width="{width}" height="{height}" fill="{GROUND}"/>',
        f'<rect x="8" y="{top}" width="{width - 16}" height="{height - top - 8}" rx="14" '
        f'fill="{CORE}"/><text x="24" y="{top + 24}" font-size="12" fill="{LINE}">core</text>',
        '<marker id="tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" '
        f'orient="auto"><path d="M0 0L8 4L0 8Z" fill="{LINE}"/></marker>',
    ]
    for room, other in doors(uses):
        (x, y), (u, v) = places[room], places[other]
        start, end = x + WIDE / 2, u + WIDE / 2
        bend = (v - y - HIGH) / 2
        out.append(
            f'<path d="M{start:g} {y + HIGH:g}C{start:g} {y + HIGH + bend:g} {end:g} '
            f'{v - bend:g} {end:g} {v - 2:g}" fill="none" stroke="{LINE}" stroke-opacity="0.65" '
            'marker-end="url(#tip)"/>'
        )
    for room, (x, y) in places.items():
        name = room.removeprefix("core.")
        out.append(
            f'<rect x="{x:g}" y="{y:g}" width="{WIDE}" height="{HIGH}" rx="9" fill="{ROOM}" '
            f'stroke="{LINE}" stroke-opacity="0.5"/>'
            f'<text x="{x + 12:g}" y="{y + 19:g}" font-weight="600">{name}</text>'
            f'<text x="{x + WIDE - 12:g}" y="{y + 19:g}" font-size="11" fill="{LINE}" '
            f'text-anchor="end">{sizes[room]}</text>'
            f'<text x="{x + 12:g}" y="{y + 36:g}" font-size="11.5" fill="#b9bdd3">{WHAT[room]}</text>'
        )
    return "\n".join([*out, "</svg>", ""])


if __name__ == "__main__":
    TARGET.write_text(drawn())
    print(f"{TARGET.relative_to(ROOT)}: {len(doors(graph()[1]))} doors")
