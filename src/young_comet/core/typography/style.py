"""How a text is set: its letters, its lines, and stretches whose letters are otherwise."""

from __future__ import annotations

from dataclasses import dataclass, replace

Features = tuple[tuple[str, int], ...]


@dataclass(frozen=True, slots=True)
class Letters:
    """Letters of one style. ``font`` is an id of the FontLibrary, size in px, tracking in 1/1000
    em, ``width`` in percent of the face's own, ``slant_deg`` to the right. ``optical_px`` 0 is the
    size. ``raised`` moves the baseline up, in percent of the size. ``case`` is typed, upper, lower
    or title. ``features`` are OpenType features with their values, ``axes`` further axes of the
    face by their tags."""

    font: str
    weight: float = 400.0
    size_px: float = 100.0
    tracking: float = 0.0
    width: float = 100.0
    slant_deg: float = 0.0
    optical_px: float = 0.0
    raised: float = 0.0
    case: str = "typed"
    features: Features = ()
    axes: tuple[tuple[str, float], ...] = ()

    def between(self, other: Letters, amount: float) -> Letters:
        """A mixture of letters of the same face, case and features."""

        def at(p: float, q: float) -> float:
            return p + (q - p) * amount

        pairs = zip(self.axes, other.axes, strict=True)
        return replace(
            self, weight=at(self.weight, other.weight), size_px=at(self.size_px, other.size_px),
            tracking=at(self.tracking, other.tracking), width=at(self.width, other.width),
            slant_deg=at(self.slant_deg, other.slant_deg),
            optical_px=at(self.optical_px, other.optical_px), raised=at(self.raised, other.raised),
            axes=tuple((tag, at(p, q)) for (tag, p), (_, q) in pairs),
        )  # fmt: skip

    def alike(self, other: Letters) -> bool:
        """Whether they differ only in what ``between`` mixes."""
        tags = [[tag for tag, _ in each.axes] for each in (self, other)]
        ours, theirs = ((each.font, each.case, each.features) for each in (self, other))
        return ours == theirs and tags[0] == tags[1]


@dataclass(frozen=True, slots=True)
class Stretch:
    """Characters from ``first`` until before ``last`` in letters of their own."""

    first: int
    last: int
    letters: Letters


@dataclass(frozen=True, slots=True)
class TextBox:
    """A box that lines are broken to, px. Where they do not fit they run over, or ``shrink`` to no
    less than ``least_px``. ``vertical`` says at which side of the box the lines lie, by what of the
    first and the last (``by``): their whole height, cap height, or baseline."""

    width: float
    height: float
    shrink: bool = False
    least_px: float = 8.0
    vertical: str = "top"
    by: str = "line"


@dataclass(frozen=True, slots=True)
class TextStyle:
    """Letters, and how lines are set: leading in percent of the size; align left, centre, right or
    justified. What is set to a ``side`` has x = 0 at that side, and grows away from it; else the
    middle of its box is there. ``spacing`` after a paragraph and ``indent`` of its first line are
    in percent of the size. A text ``by_ink`` is aligned and centred by what is seen of it, not by
    its set width. ``runs`` are in the order of the text and do not lie over one another. ``varied``
    are letters on their way: shaped and broken as they rest, then drawn as said there, and their
    neighbours make room."""

    letters: Letters
    leading: float = 120.0
    align: str = "centre"
    side: bool = False
    spacing: float = 0.0
    indent: float = 0.0
    by_ink: bool = False
    box: TextBox | None = None
    runs: tuple[Stretch, ...] = ()
    varied: tuple[Stretch, ...] = ()

    @property
    def font(self) -> str:
        """The typeface of what is no run."""
        return self.letters.font

    @property
    def size_px(self) -> float:
        """The size of what is no run, px."""
        return self.letters.size_px

    @property
    def largest_px(self) -> float:
        """The largest size in it, px."""
        each = (run.letters.size_px for run in (*self.runs, *self.varied))
        return max(self.size_px, *each, 0.0)

    def scaled(self, factor: float) -> TextStyle:
        """The same with all letters so much larger."""

        def larger(letters: Letters) -> Letters:
            return replace(letters, size_px=letters.size_px * factor)

        runs, varied = (
            tuple(replace(run, letters=larger(run.letters)) for run in each)
            for each in (self.runs, self.varied)
        )
        return replace(self, letters=larger(self.letters), runs=runs, varied=varied)

    def between(self, other: TextStyle, amount: float) -> TextStyle | None:
        """A mixture; None where they differ in what does not change by degrees."""
        if not self.alike(other):
            return None
        runs = tuple(
            replace(a, letters=a.letters.between(b.letters, amount))
            for a, b in zip(self.runs, other.runs, strict=True)
        )
        varied = tuple(
            replace(a, letters=a.letters.between(b.letters, amount))
            for a, b in zip(self.varied, other.varied, strict=True)
        )
        return replace(
            self, letters=self.letters.between(other.letters, amount), runs=runs, varied=varied,
            leading=self.leading + (other.leading - self.leading) * amount,
        )  # fmt: skip

    def alike(self, other: TextStyle) -> bool:
        """Whether they differ only in what ``between`` mixes."""
        both = ((self.runs, other.runs), (self.varied, other.varied))
        if any(len(a) != len(b) for a, b in both):
            return False
        for a, b in (pair for each in both for pair in zip(*each, strict=True)):
            if (a.first, a.last) != (b.first, b.last) or not a.letters.alike(b.letters):
                return False
        plain = replace(
            other, letters=self.letters, runs=self.runs, varied=self.varied, leading=self.leading
        )
        return self.letters.alike(other.letters) and plain == self


def plainly(
    font: str, weight: float, size_px: float, align: str = "centre", *, side: bool = False
) -> TextStyle:
    """A style without anything particular: words of our own in pictures."""
    return TextStyle(Letters(font, weight, size_px), align=align, side=side)
