"""Settings by name: values of an effect that look designed, to begin from.

Lengths are px of a scene of 1080 lines. What is not named has its default; what tells how far
something has come (a wipe's share, a glint's progress) is left as the artist has it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True)
class Setting:
    """Values of an effect's parameters under a name."""

    id: str
    label: str
    values: Mapping[str, Any]


def _of(**settings: dict[str, Any]) -> tuple[Setting, ...]:
    """Settings by their ids, with ``_`` for a dash in ids and in names of parameters."""
    found = []
    for id, values in settings.items():
        named = {name.replace("_", "-"): value for name, value in values.items()}
        label = id.replace("_", " ").capitalize()
        found.append(Setting(id.replace("_", "-"), label, named))
    return tuple(found)


# What stays as the artist has it whatever setting is chosen.
KEPT = frozenset({"progress", "shown"})

SETTINGS: Mapping[str, tuple[Setting, ...]] = {
    "gaussian-blur": _of(
        breath={"size": (3, 3)},
        out_of_focus={"size": (18, 18)},
        lost={"size": (60, 60)},
        pan={"size": (40, 0)},
    ),
    "directional-blur": _of(
        nudge={"length": 16},
        gust={"length": 70},
        fall={"length": 90, "angle": 90},
        slant={"length": 60, "angle": 35},
    ),
    "zoom-blur": _of(hint={"amount": 6}, rush={"amount": 30}, tunnel={"amount": 90}),
    "spin-blur": _of(wobble={"angle": 4}, wheel={"angle": 25}, whirl={"angle": 90}),
    "focus-sweep": _of(
        level_band={"angle": 90, "sharp": 120, "ramp": 200},
        upright_band={"angle": 0, "sharp": 160, "ramp": 240},
        spot={"shape": "round", "sharp": 220, "ramp": 260},
        narrow={"sharp": 40, "ramp": 90, "size": 26},
    ),
    "levels": _of(
        crisp={"black": 14, "white": 240},
        faded={"out-black": 34, "out-white": 236},
        lifted={"gamma": 1.25},
        deep={"gamma": 0.8, "black": 6},
    ),
    "curves": _of(
        soft_contrast={"rgb": ((0, 0), (0.25, 0.2), (0.75, 0.8), (1, 1))},
        matte_black={"rgb": ((0, 0.08), (0.3, 0.28), (0.7, 0.74), (1, 0.96))},
        dusk={"red": ((0, 0), (0.5, 0.54), (1, 1)), "blue": ((0, 0.06), (0.5, 0.48), (1, 0.95))},
        cold_morning={
            "red": ((0, 0), (0.5, 0.46), (1, 0.96)),
            "blue": ((0, 0.04), (0.5, 0.54), (1, 1)),
        },
    ),
    "brightness-contrast": _of(
        clear={"contrast": 14},
        punch={"contrast": 34, "brightness": 3},
        faint={"contrast": -24, "brightness": 8},
        night={"brightness": -28, "contrast": 8},
    ),
    "hue-saturation": _of(
        vivid={"saturation": 22},
        muted={"saturation": -38},
        grey_day={"saturation": -75, "lightness": 3},
        turned={"hue": 140},
    ),
    "temperature": _of(
        late_sun={"temperature": 38, "tint": -4},
        noon={"temperature": 12},
        sea_air={"temperature": -28, "tint": -5},
        moon={"temperature": -60, "tint": 6},
    ),
    "monochrome": _of(
        plain={},
        red_filter={"red": 80, "green": 20, "blue": 0},
        faint={"amount": 60},
    ),
    "tint": _of(
        dusk={"dark": "#17224d", "light": "#f8c79a"},
        sea={"dark": "#0d2f3a", "light": "#dff3ea"},
        print={"dark": "#2a1a2c", "light": "#f4efe6"},
        washed={"amount": 45},
    ),
    "gradient-map": _of(
        ember={"stops": ((0, "#1a0f24"), (0.5, "#e8552a"), (1, "#ffe3a6"))},
        lagoon={"stops": ((0, "#0b1f33"), (0.55, "#2f9fb3"), (1, "#eafbf4"))},
        two_inks={"stops": ((0, "#17224d"), (1, "#ffb44a"))},
        dawn={"stops": ((0, "#241a4a"), (0.45, "#b0487a"), (0.75, "#ff9a62"), (1, "#fff0cf"))},
    ),
    "invert": _of(
        negative={},
        half={"amount": 60},
        cut_out={"what": "alpha", "ink": "#f8f1e4"},
    ),
    "colour-fill": _of(
        flat={"colour": "#ff7a45"},
        glaze={"colour": "#ff7a45", "amount": 45, "mode": "multiply"},
        veil={"colour": "#f8f1e4", "amount": 30},
        dyed={"colour": "#2f9fb3", "mode": "color"},
    ),
    "posterise": _of(poster={"levels": 5}, three_tones={"levels": 3}, subtle={"levels": 9}),
    "threshold": _of(
        stamp={"softness": 2},
        soft_stamp={"softness": 14},
        ink={"dark": "#17224d", "light": "#f4efe6"},
    ),
    "vignette": _of(
        gentle={"amount": 34, "size": 50, "softness": 75},
        lens={"amount": 60, "size": 40, "softness": 60},
        spotlight={"amount": 88, "size": 24, "softness": 70},
        warm_edge={"amount": 50, "size": 45, "softness": 75, "colour": "#3a1420"},
    ),
    "grain": _of(
        fine={"amount": 4},
        film={"amount": 9, "size": 1.5},
        coarse={"amount": 16, "size": 3},
        coloured={"amount": 9, "grey": False},
    ),
    "glow": _of(
        halo={"size": 24, "strength": 100},
        neon={"size": 18, "strength": 240},
        sunlit={"size": 70, "strength": 150, "coloured": "ink", "colour": "#ffb44a"},
        lamp={"size": 40, "strength": 100, "where": "added"},
        highlights={"size": 30, "threshold": 70, "where": "added"},
    ),
    "inner-glow": _of(
        rim={"size": 10, "strength": 120},
        heart={"size": 34, "from": "centre", "strength": 45},
        cold_rim={"size": 14, "colour": "#bfe9ff"},
        ember={"size": 26, "colour": "#ff7a45"},
    ),
    "edge-light": _of(
        bevel={"size": 9},
        chisel={"size": 26, "strength": 120, "shade": 70},
        hairline={"size": 3, "strength": 160, "shade": 20},
        low_sun={"size": 14, "angle": 0, "colour": "#ffb44a", "strength": 150, "shade": 55},
    ),
    "glint": _of(
        sheen={"width": 130},
        blade={"width": 46, "softness": 40, "strength": 100},
        wash={"width": 380, "softness": 100, "strength": 60},
        golden={"width": 150, "colour": "#ffd27a", "mode": "screen", "strength": 70},
    ),
    "drop-shadow": _of(
        resting={},
        near={"distance": 6, "softness": 8, "opacity": 50, "contact": 60},
        floating={"distance": 46, "softness": 60, "opacity": 45, "contact": 0},
        hard={"distance": 12, "softness": 0, "opacity": 100, "contact": 0, "colour": "#17224d"},
    ),
    "inner-shadow": _of(
        pressed={"distance": 4, "softness": 6},
        hollow={"distance": 12, "softness": 18, "opacity": 75},
        all_round={"distance": 0, "softness": 16, "opacity": 60},
    ),
    "outline": _of(
        single={"width": 6},
        double={"width": 4, "gap": 8, "count": 2},
        rings={"width": 3, "gap": 10, "count": 5},
        inside={"where": "inside", "width": 8},
        hollow={"only": True, "width": 5, "where": "centred"},
        cut={"width": 16, "join": "miter", "colour": "#17224d"},
    ),
    "long-shadow": _of(
        afternoon={"length": 220, "fade": 100},
        poster={"length": 700, "fade": 0, "opacity": 40},
        short={"length": 70, "fade": 60},
    ),
    "reflection": _of(
        floor={"opacity": 35, "height": 160},
        mirror={"opacity": 70, "height": 320, "softness": 0},
        wet={"opacity": 45, "height": 220, "softness": 6},
    ),
    "colour-fringe": _of(
        lens={"how": "out", "amount": 3},
        misprint={"amount": 7, "angle": 20},
        signal={"amount": 18},
        hint={"amount": 1.5},
    ),
    "noise-displacement": _of(
        heat={"amount": (14, 18), "scale": 70, "flow": 0.6},
        torn={"amount": (40, 40), "scale": 40, "hardness": 60},
        underwater={"amount": (26, 20), "scale": 220, "flow": 0.3},
        shattered={"amount": (60, 60), "kind": "cellular"},
    ),
    "wave": _of(
        flag={"height": 18, "length": 320, "flow": 0.7},
        ripple={"height": 6, "length": 60, "flow": 1.2},
        sea={"height": 34, "length": 520, "flow": 0.35},
        zigzag={"form": "triangle", "height": 14, "length": 70},
    ),
    "ripple": _of(
        drop={"height": 10, "length": 70, "radius": 320},
        pond={"height": 6, "length": 120, "radius": 900, "flow": 0.5},
        shock={"height": 34, "length": 260, "radius": 520, "flow": 2},
    ),
    "bulge": _of(
        lens={"amount": 45, "form": "lens"},
        ball={"amount": 70},
        dent={"form": "dent", "amount": 60},
        magnifier={"amount": 60, "form": "lens", "radius": 160},
    ),
    "swirl": _of(
        breeze={"angle": 35, "radius": 420},
        eddy={"angle": 160, "radius": 300},
        storm={"angle": 520, "radius": 480},
    ),
    "kaleidoscope": _of(six={"segments": 6}, twelve={"segments": 12}, four={"segments": 4}),
    "polar": _of(ring={}, half_way={"amount": 50}, unrolled={"way": "unroll"}),
    "mirror": _of(upright={"angle": 0}, level={"angle": 90}, slanted={"angle": 45}),
    "streaks": _of(
        rain={"length": 160, "width": 6},
        comet_tail={"length": 320, "width": 22, "angle": 180, "fade": 70},
        wind={"length": 120, "width": 10, "angle": 0, "flow": 0.6},
    ),
    "shear": _of(
        forward={"angles": (-12, 0)}, back={"angles": (12, 0)}, climbing={"angles": (0, -10)}
    ),
    "rough-edge": _of(
        worn={"amount": 5, "scale": 10},
        torn_paper={"amount": 16, "scale": 40, "octaves": 5},
        ink={"amount": 8, "scale": 24, "softness": 3, "bias": 55},
        alive={"amount": 7, "scale": 16, "flow": 8},
    ),
    "pixelate": _of(fine={"size": (8, 8)}, blocks={"size": (28, 28)}, bars={"size": (6, 60)}),
    "tile": _of(
        four={"scale": 50},
        bricks={"scale": 25, "row-offset": 50},
        mirrored={"scale": 50, "mirrored": True},
    ),
    "noise-clouds": _of(
        haze={"scale": 520, "octaves": 4, "contrast": 80, "level": 40, "light": "#f8f1e4b0"},
        smoke={
            "scale": 300,
            "octaves": 7,
            "roughness": 58,
            "kind": "billow",
            "warp": 140,
            "contrast": 120,
            "level": 42,
            "dark": "#0a0c1400",
            "light": "#c9ccd8",
        },
        cumulus={
            "scale": 420,
            "octaves": 7,
            "roughness": 50,
            "kind": "billow",
            "warp": 40,
            "contrast": 170,
            "level": 25,
            "dark": "#ffffff00",
            "light": "#ffffff",
            "stretch": (140, 90),
        },
        marble={
            "scale": 420,
            "octaves": 7,
            "kind": "ridged",
            "contrast": 150,
            "warp": 180,
            "level": 20,
            "dark": "#3a4666",
            "light": "#f4efe6",
            "flow": 0,
        },
        wind={"scale": 380, "stretch": (420, 50), "contrast": 150, "warp": 90, "flow": 0.4},
    ),
    "point-gradient": _of(
        bay_at_dusk={},
        sunrise={
            "points": (
                (15, 90, 34, "#ff9a62"),
                (80, 95, 34, "#ffd27a"),
                (25, 15, 36, "#4a3b8a"),
                (85, 10, 36, "#c2568c"),
            )
        },
        lagoon={
            "points": (
                (10, 15, 36, "#0d3b4f"),
                (85, 20, 34, "#2f9fb3"),
                (70, 90, 36, "#bfe9d8"),
                (15, 85, 34, "#19677d"),
            )
        },
        paper={
            "points": ((10, 10, 40, "#fbf6ec"), (90, 20, 36, "#f1e3cf"), (60, 95, 40, "#ead3c0"))
        },
    ),
    "texture": _of(
        paper={"kind": "paper"},
        rough_paper={"kind": "paper", "contrast": 150, "scale": 16},
        stone={"kind": "stone"},
        brushed={"kind": "metal"},
        felt={"kind": "felt", "contrast": 90},
        wall={"kind": "concrete", "scale": 14},
    ),
    "rays": _of(
        morning={"length": 1200},
        many={"count": 40, "sharpness": 60},
        beams={"count": 6, "sharpness": 10, "length": 1600},
        halo={"count": 60, "length": 420, "falloff": 30},
        cold={"colour": "#bfe0ff", "count": 18},
    ),
    "grid": _of(
        drawing={"spacing": (80, 80), "width": 1.5},
        fine={"spacing": (24, 24), "width": 1},
        tilted={"spacing": (60, 60), "angle": 45, "width": 2},
    ),
    "stripes": _of(
        awning={"spacing": 60, "angle": 0},
        pinstripe={"spacing": 18, "share": 12},
        racing={"spacing": 90, "share": 60, "angle": 60, "flow": 0.5},
    ),
    "dots": _of(
        halftone={"spacing": 18, "radius": 5, "angle": 15},
        large={"spacing": 90, "radius": 30},
        confetti_paper={"spacing": 64, "radius": 7},
    ),
    "checker": _of(
        race_flag={"size": (60, 60)},
        fine={"size": (16, 16)},
        diamonds={"size": (60, 60), "angle": 45},
    ),
    "lens-flare": _of(
        sun={},
        low_sun={"size": 480, "colour": "#ff9a5c"},
        lamp={"character": "lamp", "size": 240},
        streak={"character": "streak", "size": 420, "colour": "#bfe0ff"},
        spark={"character": "spark", "size": 160, "ghosts": 0},
    ),
    "particles": _of(
        burst={
            "once": True,
            "burst": 0.1,
            "speed": 1400,
            "spread": 360,
            "gravity": 620,
            "count": 160,
        },
        dust={
            "kind": "dust",
            "count": 140,
            "speed": 40,
            "gravity": -8,
            "spread": 360,
            "life": 6,
            "size": 9,
            "area": (1900, 1000),
            "depth": 90,
            "colour": "#fff3dd",
            "colour-2": "#ffd9a0",
            "colour-3": "#ffffff",
        },
        snow={
            "kind": "snow",
            "count": 320,
            "speed": 90,
            "gravity": 40,
            "angle": 90,
            "spread": 30,
            "life": 8,
            "size": 9,
            "area": (2200, 1100),
            "centre": (0, -500),
            "sway": 50,
            "depth": 100,
            "variation": 50,
            "colour": "#ffffff",
            "colour-2": "#eaf4ff",
            "colour-3": "#ffffff",
        },
        sparks={
            "kind": "sparks",
            "count": 160,
            "speed": 900,
            "gravity": 700,
            "spread": 70,
            "life": 1.1,
            "size": 9,
            "area": (40, 20),
            "sway": 0,
            "depth": 70,
            "colour": "#ff9a45",
            "colour-2": "#ffb85c",
            "colour-3": "#ff6a3c",
        },
        bubbles={
            "kind": "bubbles",
            "count": 60,
            "speed": 60,
            "gravity": -50,
            "spread": 40,
            "life": 6,
            "size": 26,
            "area": (1500, 700),
            "centre": (0, 300),
            "sway": 26,
            "variation": 70,
            "depth": 80,
            "colour": "#dff4ff",
            "colour-2": "#bfe8ff",
            "colour-3": "#ffe9f4",
        },
        streaks={
            "kind": "streaks",
            "count": 90,
            "speed": 2600,
            "gravity": 0,
            "angle": 0,
            "spread": 0,
            "life": 1.2,
            "size": 30,
            "area": (400, 1000),
            "centre": (-1100, 0),
            "sway": 0,
            "depth": 100,
            "colour": "#8fc7ff",
            "colour-2": "#ffd9a0",
            "colour-3": "#ffffff",
        },
    ),
    "linear-wipe": _of(
        crisp={"softness": 0}, soft={"softness": 30}, slanted={"angle": 25, "softness": 8}
    ),
    "radial-wipe": _of(crisp={"softness": 0}, soft={"softness": 30}),
    "iris-wipe": _of(
        six={"corners": 6},
        star={"form": "star", "corners": 5},
        diamond={"corners": 4, "softness": 4},
    ),
    "centre-wipe": _of(
        level={"angle": 90}, upright={"angle": 0}, slanted={"angle": 30, "softness": 4}
    ),
    "blinds-wipe": _of(
        blinds={"count": 10, "angle": 90},
        one_by_one={"count": 12, "stagger": 80},
        slats={"count": 24, "angle": 0},
    ),
    "clock-wipe": _of(clock={}, fan={"hands": 4}, soft={"softness": 30}),
    "noise-wipe": _of(
        dissolve={"led": 0, "scale": 60},
        burning={"led": 30, "scale": 110, "softness": 6},
        drawn_across={"led": 80, "scale": 90, "softness": 20},
        shards={"kind": "cellular", "scale": 140},
    ),
    "counter": _of(
        timecode={},
        frames={"what": "frame"},
        rising={"what": "number", "to": 100, "after": " %"},
        countdown={"what": "clock", "from": 10, "to": 0, "pattern": "ss", "driven": "clock"},
    ),
    "colour-key": _of(
        white_ground={},
        black_ground={"colour": "#000000", "tolerance": 10},
        every_white={"border": False, "tolerance": 10},
    ),
    "chroma-key": _of(
        green_screen={},
        blue_screen={"colour": "#0047bb"},
        uneven_screen={"tolerance": 18, "softness": 14, "black": 8, "white": 94},
    ),
    "luminance-key": _of(
        no_shadows={},
        no_lights={"level": 70, "removes": "light"},
        only_lights={"level": 75, "softness": 20},
    ),
    "four-corner-warp": _of(
        leaning={"top-left": (80, 0), "top-right": (80, 0)},
        going_away={"top-left": (70, 30), "top-right": (-70, 30)},
        turned={"top-right": (-20, 40), "bottom-right": (-20, -40)},
        sail={"top-left": (0, 30), "top-right": (-40, -30), "bottom-left": (30, 0)},
    ),
    "crop": _of(
        inset={"left-top": (6, 6), "right-bottom": (6, 6)},
        letterbox={"left-top": (0, 12), "right-bottom": (0, 12)},
        soft={"left-top": (8, 8), "right-bottom": (8, 8), "softness": 30},
    ),
}
