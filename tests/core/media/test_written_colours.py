"""Colours as people write them, and contrast, held against figures of the standards."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.media.written_colours import contrast_of, notations, typed_colour
from young_comet.core.pixels.colour import format_colour
from young_comet.errors import DocumentError


@pytest.mark.parametrize(
    "text, hex",
    [
        ("#ff7a45", "#ff7a45"), ("ff7a45", "#ff7a45"), ("F80", "#ff8800"), ("#f808", "#ff880088"),
        ("tomato", "#ff6347"), ("RebeccaPurple", "#663399"), ("rgb(255 122 69)", "#ff7a45"),
        ("rgb(100%, 0%, 0%)", "#ff0000"), ("rgba(0, 0, 255, 0.5)", "#0000ff80"),
        ("hsl(120 100% 25%)", "#008000"), ("hwb(0 0% 0%)", "#ff0000"),
        # CSS Color 4's own example of oklch for lime, and its grey.
        ("oklch(0.86644 0.294827 142.4953)", "#00ff00"), ("oklch(0.5999 0 0)", "#808080"),
        ("transparent", "#00000000"),
    ],
)  # fmt: skip
def test_notations_are_read(text, hex):
    found = format_colour(typed_colour(text))
    near = [abs(int(found[i : i + 2], 16) - int(hex[i : i + 2], 16)) for i in range(1, len(hex), 2)]
    assert len(found) == len(hex) and max(near) <= 1


@pytest.mark.parametrize("text", ["", "kite", "#ff", "rgb(", "12345", "currentcolor", "x" * 5000])
def test_what_is_no_colour_is_said(text):
    with pytest.raises(DocumentError, match="colour: expected a colour such as"):
        typed_colour(text)


@given(st.tuples(*[st.integers(0, 255)] * 3), st.sampled_from(["rgb", "hsl", "oklch", "hex"]))
def test_what_is_written_is_read_as_the_same_colour(levels, notation):
    colour = (*(each / 255 for each in levels), 1.0)
    back = typed_colour(notations(colour)[notation])
    # The figures that are written are rounded.
    assert max(abs(a - b) * 255 for a, b in zip(back, colour, strict=True)) <= 1.6


def test_contrast_is_that_of_the_standard():
    white, black = (1.0, 1.0, 1.0, 1.0), (0.0, 0.0, 0.0, 1.0)
    assert contrast_of(white, black) == pytest.approx(21.0)
    assert contrast_of(white, white) == 1.0
    # #777777 on white is the well-known pair that just misses 4.5.
    assert contrast_of(typed_colour("#777777"), white) == pytest.approx(4.48, abs=0.005)
    assert contrast_of(typed_colour("#767676"), white) == pytest.approx(4.54, abs=0.005)
