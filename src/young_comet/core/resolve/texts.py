"""A text at a moment, from the values of its properties and of its runs."""

from __future__ import annotations

import math
from dataclasses import replace

from ..catalog import AXES, RUNS
from ..frame.contents import Backing, Dress, TextContent
from ..frame.surface import Shadow, Surface
from ..model import Run
from ..model.kinds import features_of
from ..pixels.canvas import Gradient, Paint
from ..pixels.mixing import mixed_stops
from ..typography.along import TextPath
from ..typography.numbers import NumberForm, Rolling, number_text, numbered, rolling
from ..typography.style import Letters, Stretch, TextBox, TextStyle
from .context import Resolver
from .surfaces import surface_of
from .values import LayerValues

# Which of a run's properties its letters have, and which its paint.
_LETTERS = frozenset((
    "font", "weight", "size", "tracking", "width", "slant", "optical", "raised", "case",
    "features",
))  # fmt: skip
_PAINT = frozenset(("fill", "stroke", "shadow"))


def text_of(scene: Resolver, v: LayerValues) -> TextContent:
    """What a text layer shows."""
    words = v("text")
    runs = runs_within(v.layer.runs, len(words))
    text, earlier, rolled = words, "", 1.0
    if v("number.shows") != "none":
        shown = _number(v)
        running = numbered(words, shown.shown)
        text, earlier, rolled = running.text, numbered(words, shown.earlier).text, shown.share
        runs = [
            run.model_copy(update={"first": a, "last": b})
            for run in runs
            for a, b in [running.span(run.first, run.last)]
            if a < b
        ]
    own = _own_of_runs(v) if runs else {}
    stretches, dresses = [], []
    for run in runs:
        prefix, names = RUNS.prefix(run.id), own.get(run.id, set())
        if names & _LETTERS:
            stretches.append(Stretch(run.first, run.last, _letters(scene, v, prefix)))
        if names & _PAINT:
            surface = _surface(scene, v, prefix)
            dresses.append(Dress(run.first, run.last, surface, v(prefix + "fill.across")))
    backings = [*_behind(v, "", 0, len(text))]
    for run in runs:
        prefix = RUNS.prefix(run.id)
        if prefix + "behind.across" in v.layer.properties:
            backings += _behind(v, prefix, run.first, run.last)
    style = replace(_style(scene, v), runs=tuple(stretches))
    return TextContent(
        text, style, _surface(scene, v), along=_path(v), across=v("fill.across"),
        dresses=tuple(dresses), backings=tuple(backings), stacking=v("text.stacking"),
        earlier=earlier if rolled < 1 else "", rolled=rolled,
    )  # fmt: skip


def _number(v: LayerValues) -> Rolling:
    """What a text says of its number, on its way from another where its digits roll."""
    value, form = v("number.value"), _form(v)
    if form.shows == "number" and v("number.rolls"):
        return rolling(value, form)
    said = number_text(value, form)
    return Rolling(said, said, 1.0)


def _form(v: LayerValues) -> NumberForm:
    """How the number of a text is shown."""
    rate = v.scene.rate
    return NumberForm(
        v("number.shows"), round(v("number.decimals")), round(v("number.digits")),
        v("number.groups"), v("number.comma"), v("number.plus"), v("number.pattern"),
        rate.num / rate.den,
    )  # fmt: skip


def _behind(v: LayerValues, prefix: str, first: int, last: int) -> list[Backing]:
    """The box behind a stretch of the text, where it has one."""
    across = v(prefix + "behind.across")
    if across == "none" or first >= last:
        return []
    return [
        Backing(
            first, last, across, _box_paint(v, prefix), v(prefix + "behind.padding"),
            v(prefix + "behind.radius"), v(prefix + "behind.skew"),
            v(prefix + "behind.grown") / 100,
        )
    ]  # fmt: skip


def _box_paint(v: LayerValues, prefix: str) -> Paint:
    if v(prefix + "behind.kind") == "flat":
        return v(prefix + "behind.colour")  # type: ignore[no-any-return]
    turned = math.radians(v(prefix + "behind.angle"))
    x, y = math.cos(turned) / 2, math.sin(turned) / 2
    stops = mixed_stops(v(prefix + "behind.stops"), v(prefix + "behind.mixing"))
    return Gradient("linear", (0.5 - x, 0.5 - y), (0.5 + x, 0.5 + y), stops)


def _surface(scene: Resolver, v: LayerValues, prefix: str = "") -> Surface:
    """How letters are painted, with the shadow that they cast."""
    surface = surface_of(scene, v, drawn=False, prefix=prefix)
    share = v(prefix + "shadow.opacity") / 100
    if share <= 0:
        return surface
    colour = v(prefix + "shadow.colour")
    shadow = Shadow(
        (*colour[:3], colour[3] * share), v(prefix + "shadow.offset"), v(prefix + "shadow.blur")
    )
    return replace(surface, shadow=shadow)


def _own_of_runs(v: LayerValues) -> dict[str, set[str]]:
    """What each run sets, by the first words of its properties' names."""
    found: dict[str, set[str]] = {}
    for name in v.layer.properties:
        if RUNS.holds(name):
            _, run, rest = name.split(".", 2)
            found.setdefault(run, set()).add(rest.partition(".")[0])
    return found


def runs_within(runs: tuple[Run, ...], length: int) -> list[Run]:
    """Those that are on, in the order of the text and within it, each from where the one before
    ends: what a text of another length, or a document from elsewhere, leaves of them."""
    found: list[Run] = []
    at = 0
    for run in sorted(runs, key=lambda each: each.first):
        first, last = max(at, run.first), min(run.last, length)
        if run.on and first < last:
            found.append(run.model_copy(update={"first": first, "last": last}))
            at = last
    return found


def _letters(scene: Resolver, v: LayerValues, prefix: str = "text.") -> Letters:
    tracking = v(prefix + "tracking")
    if prefix != "text.":
        # What moves do to the tracking of the text they do to that of its runs.
        tracking += v("text.tracking") - v.unmoved("text.tracking")
    features = features_of(v(prefix + "features"))
    if v("number.shows") != "none" and v("number.tabular"):
        features = (("tnum", 1), *(each for each in features if each[0] != "tnum"))
    return Letters(
        scene.font(v(prefix + "font")), v(prefix + "weight"), v(prefix + "size"), tracking,
        v(prefix + "width"), v(prefix + "slant"), v(prefix + "optical"), v(prefix + "raised"),
        v(prefix + "case"), features, _axes(v),
    )  # fmt: skip


def _axes(v: LayerValues) -> tuple[tuple[str, float], ...]:
    """The axes of the typeface's own that a text sets."""
    return tuple((axis.tag, v(AXES.prefix(axis.id) + "value")) for axis in v.layer.axes if axis.on)


def _style(scene: Resolver, v: LayerValues) -> TextStyle:
    side = v("text.grows") == "side" and not v("text.path")
    box = None
    if v("text.box") == "box" and not v("text.path"):
        width, height = v("text.box-size")
        box = TextBox(
            width, height, v("text.fit") == "shrink", v("text.least"), v("text.vertical"),
            v("text.measure"),
        )  # fmt: skip
    return TextStyle(
        _letters(scene, v), v("text.leading"), v("text.align"), side, v("text.spacing"),
        v("text.indent"), v("text.by-ink"), box,
    )  # fmt: skip


def _path(v: LayerValues) -> TextPath | None:
    data = v("text.path")
    if not data:
        return None
    offset = v("text.path-offset") / 100
    gap, reversed = v("text.path-gap"), v("text.path-reversed")
    return TextPath(data, offset, gap, reversed, v("text.path-upright"))
