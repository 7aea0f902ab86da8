"""Every property's name can be read alone: in a lane, the finder, an expression, the history."""

import re

import pytest

from young_comet.core.catalog import LAYER_KINDS, lane_label
from young_comet.core.catalog.members import FAMILIES
from young_comet.core.model import Kind, Layer
from young_comet.core.model.specs import PropertySpec

# Words with which a piece of a sentence begins that says nothing by itself.
PIECES = re.compile(
    r"^(by|they|through|along|away|lies|takes?|then|times|every|placed|to|from|its?|their|on its|"
    r"and|at|within|back|drawn|scaled|turned|moved|of|with|when|about|towards|later|fainter)\b",
    re.IGNORECASE,
)


def declared():
    """Every declaration with where it is declared."""
    for kind in LAYER_KINDS.values():
        for spec in kind.specs:
            yield f"{kind.id}/{spec.id}", spec
    for family in FAMILIES.values():
        for kind in family.kinds():
            for spec in () if kind.endswith(":") else family.declared(kind):
                yield f"{family.id}/{kind}/{spec.id}", spec


ALL = dict(declared())


@pytest.mark.parametrize("spec", ALL.values(), ids=ALL)
def test_a_name_stands_alone_and_a_line_explains_it(spec):
    assert not PIECES.match(spec.label), spec.label
    assert spec.label[0].isupper() and ":" not in spec.label and len(spec.label) <= 22
    assert len(spec.help) >= 8 and spec.explained.startswith(spec.help.rstrip("."))
    assert spec.explained.endswith(".")


def layer_of(kind):
    return Layer(id="a", kind=kind, name="A", start_s=0.0, end_s=1.0)


@pytest.mark.parametrize("kind", LAYER_KINDS.values(), ids=LAYER_KINDS)
def test_names_are_unique_on_a_layer_of_every_kind(kind):
    names = [lane_label(layer_of(kind.id), spec) for spec in kind.specs]
    assert len(names) == len(set(names)), sorted(n for n in names if names.count(n) > 1)


@pytest.mark.parametrize("family", FAMILIES.values(), ids=FAMILIES)
def test_names_are_unique_within_a_member(family):
    for kind in family.kinds():
        if not kind.endswith(":"):
            names = [spec.label for spec in family.declared(kind)]
            assert len(names) == len(set(names)), (kind, names)


@pytest.mark.parametrize(
    "limits, unit, said",
    [
        ((0, 100), "%", "Does it. From 0 to 100, in percent."),
        ((-1e6, 1e6), "px", "Does it. In pixels."),
        ((1, 4e6), "", "Does it. From 1 up."),
        ((None, None), "s", "Does it. In seconds."),
        ((None, None), "", "Does it."),
    ],
)
def test_a_line_of_help_gives_unit_and_range(limits, unit, said):
    low, high = limits
    spec = PropertySpec(
        "x", "X", Kind.NUMBER, 0.0, "X", unit, minimum=low, maximum=high, help="Does it"
    )
    assert spec.explained == said


@pytest.mark.parametrize(
    "kind, value, unit, said",
    [
        (Kind.NUMBER, 40.0, "%", "40 %"), (Kind.NUMBER, -12.346, "°", "-12.35°"),
        (Kind.POINT, (40.0, 0.5), "px", "40, 0.5 px"), (Kind.FLAG, True, "", "on"),
        (Kind.WORDS, "Kite\nWeek", "", "“Kite Week”"), (Kind.COLOUR, "#ff7a45", "", "#ff7a45"),
        (Kind.COLOUR, "ink:x", "", ""), (Kind.PATH, "M0 0", "", ""),
    ],
)  # fmt: skip
def test_a_value_is_said_in_a_few_words(kind, value, unit, said):
    assert kind.said(value, PropertySpec("x", "X", kind, value, "X", unit)) == said
