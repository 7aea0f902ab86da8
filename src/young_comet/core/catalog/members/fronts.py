"""Fronts: spreads over the units of a text, with a look for what they have not yet reached."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from ....errors import DocumentError
from ...geometry.affine import Affine
from ...geometry.contours import parse_contours, write_contours
from ...model.document import Front, Layer
from ...model.specs import Kind, Needed, PropertySpec, where
from ...registry import Registry
from .base import MemberFamily

UNITS = (("letters", "Letters"), ("words", "Words"), ("lines", "Lines"), ("runs", "Runs"))
# As spreads have them (timing/spread.py), and two that are about words and places.
ORDERS = (
    ("forward", "Forward"), ("back", "Backward"), ("outwards", "From the middle"),
    ("inwards", "To the middle"), ("by-place", "From left to right"), ("long", "Long words last"),
    ("path", "Along a drawn path"), ("shuffled", "Shuffled"),
)  # fmt: skip
_IN_ORDER = tuple(order for order, _ in ORDERS if order != "shuffled")
PIVOTS = (
    ("middle", "Its own middle"), ("baseline", "Its foot"), ("word", "The word's middle"),
    ("line", "The line's middle"), ("block", "The text's middle"), ("left", "Its left edge"),
    ("right", "Its right edge"), ("top", "Its upper edge"), ("bottom", "Its lower edge"),
)  # fmt: skip

SEEN = (
    ("everywhere", "Wherever it is"), ("line", "Within its line"), ("word", "Within its word"),
    ("own", "Where it rests"),
)  # fmt: skip
WIPES = (
    ("linear", "From one side"), ("centre", "From the centre line"), ("iris", "From the middle"),
)  # fmt: skip

# How it goes over the text.
SPREAD = (
    PropertySpec(
        "progress", "Progress", Kind.NUMBER, 100.0, "Front", unit="%", minimum=0, maximum=100,
        help="How far it has gone: at 0 all of the text is displaced, at 100 all is at rest",
    ),
    PropertySpec(
        "by", "Goes over", Kind.CHOICE, "letters", "Front", options=UNITS, fixed=True,
        help="What it reaches one by one",
    ),
    PropertySpec(
        "width", "Front width", Kind.NUMBER, 3.0, "Front", minimum=0, maximum=1000,
        help="How many of them are on their way at once",
    ),
    PropertySpec(
        "order", "Front order", Kind.CHOICE, "forward", "Front", options=ORDERS,
        help="Which of them it reaches first",
    ),
    PropertySpec(
        "path", "Front path", Kind.PATH, "", "Front", shown_when=where("order", "path"),
        help="It reaches them in the order in which they lie along the path: draw it over the text",
    ),
    PropertySpec(
        "seed", "Front seed", Kind.NUMBER, 1.0, "Front", minimum=0, maximum=99999, decimals=0,
        whole=True, help="Another number, another chance",
        shown_when=(Needed(("order", "chance", "flicker"), besides=(*_IN_ORDER, 0)),),
    ),
    PropertySpec(
        "profile", "Front profile", Kind.EASING, "ease-out", "Front",
        help="How each of them comes to rest while the front passes it",
    ),
    PropertySpec(
        "pivot", "Turns about", Kind.CHOICE, "middle", "Front", options=PIVOTS,
        help="What each of them turns and is scaled about",
    ),
    PropertySpec(
        "seen", "Seen", Kind.CHOICE, "everywhere", "Front", options=SEEN,
        help="Where what it has not reached can be seen: within its line, it comes from behind the "
        "line's edge",
    ),
    PropertySpec(
        "opposite", "Opposite sides", Kind.FLAG, False, "Front",
        help="Every other one is displaced to the opposite side, and turned the other way",
    ),
    PropertySpec(
        "chance", "Displaced by chance", Kind.NUMBER, 0.0, "Front", unit="%", minimum=0,
        maximum=100, help="How far each goes a way of its own: at 100 anywhere between where it is "
        "displaced to and the opposite side",
    ),
    PropertySpec(
        "flicker", "Front flicker", Kind.NUMBER, 0.0, "Front", unit="/s", minimum=0, maximum=60,
        help="While the front passes it, it jumps between displaced and at rest by chance, so many "
        "times a second",
    ),
    PropertySpec(
        "cursor", "Front cursor", Kind.FLAG, False, "Front",
        help="A cursor stands behind the last letter that is seen, until the front has passed",
    ),
)  # fmt: skip

# What is different of what it has not reached: added to what it is at rest.
DISPLACED = (
    PropertySpec(
        "offset", "Displaced offset", Kind.POINT, (0.0, 0.0), "Front", unit="px", minimum=-1e5,
        maximum=1e5, help="So far from where it rests",
    ),
    PropertySpec(
        "way", "Displaced way", Kind.PATH, "", "Front",
        help="It comes along this path, which ends where it rests, in place of straight on",
    ),
    PropertySpec(
        "scale", "Displaced scale", Kind.POINT, (0.0, 0.0), "Front", unit="%", minimum=-100,
        maximum=10000, widget="linked", help="So much larger, or smaller; -100 is nothing",
    ),
    PropertySpec(
        "rotation", "Displaced rotation", Kind.NUMBER, 0.0, "Front", unit="°", minimum=-36000,
        maximum=36000, widget="dial", help="Turned so far, clockwise",
    ),
    PropertySpec(
        "skew", "Displaced skew", Kind.POINT, (0.0, 0.0), "Front", unit="°", minimum=-85,
        maximum=85, help="Skewed so far",
    ),
    PropertySpec(
        "tilt", "Displaced tilt", Kind.NUMBER, 0.0, "Front", unit="°", minimum=-36000,
        maximum=36000, widget="dial", help="Tilted so far about its x axis, in perspective",
    ),
    PropertySpec(
        "turn", "Displaced turn", Kind.NUMBER, 0.0, "Front", unit="°", minimum=-36000,
        maximum=36000, widget="dial", help="Turned so far about its y axis, in perspective",
    ),
    PropertySpec(
        "apart", "Displaced halves", Kind.POINT, (0.0, 0.0), "Front", unit="px", minimum=-1e5,
        maximum=1e5, help="Its upper half has slid so far, and its lower half as far the other way",
    ),
    PropertySpec(
        "opacity", "Displaced opacity", Kind.NUMBER, 0.0, "Front", unit="%", minimum=-100,
        maximum=0, help="So much less of it is seen; -100 is nothing",
    ),
    PropertySpec(
        "blur", "Displaced blur", Kind.NUMBER, 0.0, "Front", unit="px", minimum=0, maximum=500,
        help="Blurred so far",
    ),
    PropertySpec(
        "fill", "Displaced fill", Kind.NUMBER, 0.0, "Front", unit="%", minimum=-100, maximum=0,
        help="So much less of its fill is seen; with an outline it is drawn in lines at -100",
    ),
    PropertySpec(
        "tint", "Displaced tint", Kind.NUMBER, 0.0, "Front", unit="%", minimum=0, maximum=100,
        help="How much it takes on of another colour",
    ),
    PropertySpec(
        "colour", "Tint colour", Kind.COLOUR, "#ffb44a", "Front",
        shown_when=where("tint", least=0.01), help="The colour that it takes on",
    ),
    PropertySpec(
        "outline", "Displaced outline", Kind.NUMBER, 0.0, "Front", unit="px", minimum=-1000,
        maximum=1000, help="So much wider an outline",
    ),
    PropertySpec(
        "size", "Displaced size", Kind.NUMBER, 0.0, "Front", unit="%", minimum=-100, maximum=1000,
        help="Set so much larger: its neighbours make room",
    ),
    PropertySpec(
        "weight", "Displaced weight", Kind.NUMBER, 0.0, "Front", minimum=-900, maximum=900,
        decimals=0, help="So much bolder, or lighter where negative",
    ),
    PropertySpec(
        "width-axis", "Displaced letter width", Kind.NUMBER, 0.0, "Front", unit="%", minimum=-300,
        maximum=300, help="So much wider, where the typeface has an axis for it",
    ),
    PropertySpec(
        "slant", "Displaced slant", Kind.NUMBER, 0.0, "Front", unit="°", minimum=-60, maximum=60,
        help="Leaning so far to the right",
    ),
    PropertySpec(
        "tracking", "Displaced tracking", Kind.NUMBER, 0.0, "Front", unit="‰", minimum=-1000,
        maximum=5000, decimals=0, help="So much more space after it, in thousandths of an em",
    ),
    PropertySpec(
        "raised", "Displaced baseline", Kind.NUMBER, 0.0, "Front", unit="%", minimum=-1000,
        maximum=1000, help="So far above its line, in percent of the size",
    ),
    PropertySpec(
        "wiped", "Displaced wipe", Kind.NUMBER, 0.0, "Front", unit="%", minimum=0, maximum=100,
        help="So much of it is wiped away",
    ),
    PropertySpec(
        "wipe", "Wipe goes", Kind.CHOICE, "linear", "Front", options=WIPES,
        shown_when=where("wiped", least=0.01), help="How the edge of the wipe goes over it",
    ),
    PropertySpec(
        "wipe-angle", "Wipe direction", Kind.NUMBER, 0.0, "Front", unit="°", minimum=-36000,
        maximum=36000, widget="dial", shown_when=where("wiped", least=0.01),
        help="Where its edge runs to, clockwise from the right",
    ),
    PropertySpec(
        "wipe-soft", "Wipe softness", Kind.NUMBER, 8.0, "Front", unit="%", minimum=0, maximum=100,
        shown_when=where("wiped", least=0.01), help="How wide its edge is",
    ),
    PropertySpec(
        "undrawn", "Displaced drawing", Kind.NUMBER, 0.0, "Front", unit="%", minimum=0, maximum=100,
        help="So much of it is not yet drawn: first its outline is, then it is filled",
    ),
    PropertySpec(
        "box", "Displaced box", Kind.NUMBER, 0.0, "Front", unit="%", minimum=-100, maximum=0,
        help="So much less of the box behind it has grown, where the text has one",
    ),
    PropertySpec(
        "others", "Other letters", Kind.NUMBER, 0.0, "Front", unit="%", minimum=0, maximum=100,
        help="How much of it is other letters, new ones some times a second",
    ),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class ReadyFront:
    """A front to begin from: values of its properties by their names; ``offset``, ``apart`` and the
    path of its ``way`` in parts of the size, so that they suit any text. ``text`` are values of the
    text's own that it needs, where they are not set."""

    id: str
    label: str
    help: str
    values: Mapping[str, Any]
    offset: tuple[float, float] = (0.0, 0.0)
    apart: tuple[float, float] = (0.0, 0.0)
    way: str = ""
    text: Mapping[str, Any] = field(default_factory=dict)

    @property
    def by(self) -> str:
        """What it goes over."""
        return str(self.values.get("by", "letters"))

    def values_at(self, size_px: float) -> dict[str, Any]:
        """Its values for letters of a size."""
        found = dict(self.values)
        for name, parts in (("offset", self.offset), ("apart", self.apart)):
            if any(parts):
                found[name] = tuple(round(each * size_px, 1) for each in parts)
        if self.way:
            larger = Affine.scaling(size_px, size_px)
            path = [contour.mapped(larger) for contour in parse_contours(self.way)]
            found["way"] = write_contours(path)
        return found


READY: Registry[ReadyFront] = Registry(
    "a ready front",
    (
        ReadyFront(
            "rise", "Rising", "Letters come up from below and are seen", {"opacity": -100.0},
            (0.0, 0.7),
        ),
        ReadyFront(
            "weight-wave", "Wave of weight", "From thin to bold, one letter after the other",
            {"weight": -600.0, "width": 5.0, "profile": "ease-in-out"},
        ),
        ReadyFront(
            "lifted", "Settling", "Thin, lifted and turned, until the front has passed",
            {"weight": -500.0, "rotation": -12.0, "opacity": -55.0, "width": 4.0}, (0.0, -0.6),
        ),
        ReadyFront(
            "turning", "Turning in", "Each letter turns about itself, out of a blur",
            {"turn": 90.0, "blur": 8.0, "opacity": -100.0, "width": 4.0},
        ),
        ReadyFront(
            "haze", "Out of a haze", "Soft letters become sharp",
            {"blur": 24.0, "opacity": -100.0, "scale": (12.0, 12.0), "width": 6.0},
        ),
        ReadyFront(
            "dropping", "Dropping", "Letters fall, bounce and settle",
            {"rotation": -10.0, "profile": "bounce-out", "width": 9.0, "opacity": -100.0},
            (0.0, -2.4),
        ),
        ReadyFront(
            "glowing", "Glow passing", "A colour that cools as the front has passed",
            {"tint": 100.0, "scale": (10.0, 10.0), "width": 5.0},
        ),
        ReadyFront(
            "lines", "Lines to solid", "Outlines are filled",
            {"fill": -100.0, "outline": 3.0, "width": 5.0, "profile": "linear"},
        ),
        ReadyFront(
            "leaning", "Leaning in", "Letters slide in, leaning, and stand up",
            {"slant": 30.0, "opacity": -100.0, "width": 4.0}, (-0.8, 0.0),
        ),
        ReadyFront(
            "slam", "Words slam", "Large words land one by one",
            {"by": "words", "scale": (140.0, 140.0), "opacity": -100.0, "blur": 6.0, "width": 1.2,
             "profile": "ease-in"},
        ),
        ReadyFront(
            "lines-up", "Lines lift", "Line by line from below",
            {"by": "lines", "opacity": -100.0, "width": 1.6}, (0.0, 0.9),
        ),
        ReadyFront(
            "behind", "From behind", "Letters rise from behind the line's foot",
            {"seen": "line", "width": 4.0, "profile": "cubic-bezier(0.16, 1, 0.3, 1)"}, (0.0, 1.25),
        ),
        ReadyFront(
            "lines-behind", "Lines from behind", "Line by line from behind its own foot",
            {"by": "lines", "seen": "line", "width": 1.5,
             "profile": "cubic-bezier(0.16, 1, 0.3, 1)"}, (0.0, 1.25),
        ),
        ReadyFront(
            "wiped", "Words wiped on", "An edge passes over one word after the other",
            {"by": "words", "wiped": 100.0, "width": 1.6,
             "profile": "cubic-bezier(0.65, 0, 0.35, 1)"},
        ),
        ReadyFront(
            "drawn", "Drawn, then filled", "The outline of each letter is drawn, then filled",
            {"undrawn": 100.0, "width": 6.0, "profile": "linear"},
        ),
        ReadyFront(
            "boards", "Flip boards", "Each letter falls forward about its foot, like a board",
            {"tilt": 90.0, "pivot": "baseline", "opacity": -100.0, "width": 3.0,
             "profile": "bounce-out"},
        ),
        ReadyFront(
            "halves", "Halves meet", "The upper and lower halves of words slide together",
            {"by": "words", "opacity": -100.0, "width": 1.6,
             "profile": "cubic-bezier(0.16, 1, 0.3, 1)"}, apart=(1.2, 0.0),
        ),
        ReadyFront(
            "highlighter", "Highlighter", "A bar of colour passes behind the words",
            {"by": "words", "box": -100.0, "width": 1.0, "profile": "cubic-bezier(0.5, 0, 0.2, 1)"},
            text={"behind.across": "line"},
        ),
        ReadyFront(
            "flown", "Flown in", "Letters come in one behind the other along a path",
            {"opacity": -100.0, "width": 8.0, "rotation": -40.0,
             "profile": "cubic-bezier(0.3, 0.35, 0.45, 1)"},
            way="M-9 2.2 C-7.4 -3.2 -4.4 -2.6 -3.2 -0.6 C-2.2 1 -1 0.5 0 0",
        ),
        ReadyFront(
            "typed", "Typed", "Letter by letter, with a cursor",
            {"opacity": -100.0, "width": 1.0, "profile": "step-end", "cursor": True},
        ),
        ReadyFront(
            "zip", "Zip", "From above and from below by turns",
            {"opposite": True, "seen": "line", "width": 5.0,
             "profile": "cubic-bezier(0.16, 1, 0.3, 1)"}, (0.0, 1.25),
        ),
        ReadyFront(
            "gathering", "Gathering", "Letters come together from anywhere about",
            {"chance": 100.0, "rotation": 120.0, "opacity": -100.0, "width": 16.0,
             "order": "shuffled", "profile": "cubic-bezier(0.16, 1, 0.3, 1)"}, (2.4, 1.8),
        ),
        ReadyFront(
            "unsteady", "Unsteady light", "Letters light up, flickering",
            {"flicker": 14.0, "opacity": -100.0, "width": 5.0, "order": "shuffled",
             "profile": "step-end"},
        ),
        ReadyFront(
            "doors", "Doors", "Each word swings open about its left edge",
            {"by": "words", "turn": 90.0, "pivot": "left", "opacity": -100.0, "width": 1.8,
             "profile": "cubic-bezier(0.2, 1.2, 0.3, 1)"},
        ),
        ReadyFront(
            "closing", "Tracking closes", "Letters come together",
            {"tracking": 400.0, "opacity": -100.0, "width": 200.0},
        ),
    ),
)  # fmt: skip


class Fronts(MemberFamily[Front]):
    """The fronts that a text wears."""

    id = "front"
    field = "fronts"
    label = "front"
    model = Front
    kind_field = ""

    def kinds(self) -> Sequence[str]:
        return (self.id,)

    def declared(self, kind_id: str) -> Sequence[PropertySpec] | None:
        return (*SPREAD, *DISPLACED)

    def name_of(self, member: Front) -> str:
        return member.name or "Front"

    def suits(self, layer: Layer) -> bool:
        return layer.kind == "text"

    def check(self, layer: Layer, member: Front, where: str) -> None:
        if not self.suits(layer):
            raise DocumentError("only a text wears fronts", field=where)


FRONTS = Fronts()
