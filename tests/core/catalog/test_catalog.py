import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import key, layer, project

from young_comet.core.catalog import LAYER_KINDS, check_layer, normalise
from young_comet.core.catalog.typed import parse_number
from young_comet.core.model import (
    SCHEMA_VERSION,
    Kind,
    Layer,
    Property,
    document_schema,
    load_project,
)
from young_comet.core.model.kinds import dash_lengths
from young_comet.edits.patch import plain
from young_comet.errors import DocumentError, NewerSchemaError

SPECS = [(kind.id, spec) for kind in LAYER_KINDS.values() for spec in kind.specs]
ids = [f"{kind}-{spec.id}" for kind, spec in SPECS]


@pytest.mark.parametrize(("kind", "spec"), SPECS, ids=ids)
def test_every_default_is_canonical(kind, spec):
    if spec.default is not None:
        assert normalise(spec, spec.default, spec.id) == spec.default


@pytest.mark.parametrize(("kind", "spec"), SPECS, ids=ids)
def test_wrong_types_and_nan_are_refused_everywhere(kind, spec):
    for wrong in (None, {"a": 1}, [1], math.nan, math.inf, -math.inf):
        with pytest.raises(DocumentError, match="expected"):
            normalise(spec, wrong, spec.id)


@pytest.mark.parametrize(("kind", "spec"), SPECS, ids=ids)
def test_numbers_beyond_their_range_are_refused(kind, spec):
    if spec.kind not in (Kind.NUMBER, Kind.POINT):
        return
    assert spec.minimum is not None and spec.maximum is not None
    for beyond in (spec.minimum - 1, spec.maximum + 1):
        value = beyond if spec.kind is Kind.NUMBER else [beyond, beyond]
        with pytest.raises(DocumentError, match="expected a number from"):
            normalise(spec, value, spec.id)


@pytest.mark.parametrize(("kind", "spec"), SPECS, ids=ids)
def test_conditions_name_real_properties_and_values(kind, spec):
    for needed in spec.shown_when:
        assert needed.of or needed.layer in Layer.model_fields
        for other in needed.of:
            condition = LAYER_KINDS[kind].spec(other)
            known = [option for option, _ in condition.options]
            if condition.kind is Kind.FLAG:
                known = [True, False]
            assert {*needed.values, *needed.besides} <= set(known)
            assert needed.least is None or condition.kind is Kind.NUMBER
            assert not needed.keyed or condition.animatable


def test_stops_need_two_and_offsets_within_one():
    spec = LAYER_KINDS["backdrop"].spec("fill.stops")
    for wrong in ([[0, "#fff"]], [[0, "#fff"], [1.5, "#000"]], [[0, "#fff"], ["x", "#000"]]):
        with pytest.raises(DocumentError):
            normalise(spec, wrong, "stops")


def test_unknown_kinds_properties_and_easings_are_refused():
    with pytest.raises(DocumentError, match="layer kind"):
        check_layer(Layer(id="a", name="A", kind="kite", start_s=0, end_s=1))
    with pytest.raises(DocumentError, match="no property 'wind'"):
        check_layer(layer("a", "text", wind=3))
    with pytest.raises(DocumentError, match="easing"):
        project(layer("a", "text", opacity=[key(0, 1.0, "swoosh")]))
    with pytest.raises(DocumentError, match="cannot have keys"):
        project(layer("a", "text", text__font=[key(0, "inter")]))


def test_keys_are_ordered_and_may_not_coincide():
    keys = [key(2, 5.0), key(0, 1.0)]
    checked = check_layer(layer("a", "text", opacity=keys))
    assert [k.time_s for k in checked.properties["opacity"].keys] == [0, 2]
    double = [key(1, 5.0), key(1, 6.0).model_copy(update={"id": "other"})]
    with pytest.raises(DocumentError, match="same time"):
        check_layer(layer("a", "text", opacity=double))


def test_values_are_frozen():
    prop = Property(value=[[0, "#fff"], [1, "#000"]])
    assert prop.value == ((0, "#fff"), (1, "#000"))
    with pytest.raises(Exception, match="frozen"):
        prop.value = 3


def test_a_document_reads_back():
    document = project(layer("name", "text", text="Gullwing", opacity=[key(0, 0.0), key(1, 100.0)]))
    assert load_project(plain(document)) == document


def test_a_newer_schema_version_is_refused_with_advice():
    with pytest.raises(NewerSchemaError, match="newer Young Comet"):
        load_project({"schema_version": SCHEMA_VERSION + 1, "id": "a", "name": "A"})


@pytest.mark.parametrize(
    ("data", "field"),
    [
        ([], "document"),
        ({"id": "a"}, "schema_version"),
        ({"schema_version": True}, "schema_version"),
        ({"schema_version": 1, "id": "../x", "name": "A"}, "id"),
        ({"schema_version": 1, "id": "a", "name": "A", "weather": 1}, "weather"),
        ({"schema_version": 1, "id": "a", "name": "A", "scenes": [{"id": "s"}]}, "scenes.0"),
    ],
)
def test_broken_documents_name_the_field(data, field):
    with pytest.raises(DocumentError, match=field):
        load_project(data)


def test_the_schema_speaks_of_every_part():
    schema = document_schema()
    assert {"Scene", "Layer", "Keyframe", "Asset", "Ink"} <= set(schema["$defs"])


def test_dashes():
    assert dash_lengths("24 12") == (24, 12)
    assert dash_lengths("") == ()
    for wrong in ("a b", "0 0", "-3 4", "1 " * 40):
        with pytest.raises(DocumentError):
            dash_lengths(wrong)


@pytest.mark.parametrize(
    ("text", "value"),
    [("960-200", 760), ("1920/2", 960), ("50%", 960), ("50% + 12px", 972), ("-(3+4)*2", -14),
     ("1,5", 1.5), (" 7 ", 7), ("2 * -3", -6), (".5", 0.5), ("90°", 90)],
)  # fmt: skip
def test_typed_arithmetic(text, value):
    assert parse_number(text, {"%": 19.2, "px": 1, "°": 1}) == pytest.approx(value)


@pytest.mark.parametrize(
    "text",
    ["", "abc", "2**99", "1/0", "__import__('os')", "9" * 500, "-" * 60 + "1", "1e999",
     "3 kg", "1;2", "[1]", "1 if 1 else 2", "0x10"],
)  # fmt: skip
def test_other_texts_are_no_numbers(text):
    with pytest.raises(DocumentError):
        parse_number(text, {"px": 1})


@given(st.floats(-1e6, 1e6), st.floats(-1e6, 1e6))
def test_typed_sums_agree_with_python(a, b):
    assert parse_number(f"{a:.3f}+{b:.3f}", {}) == pytest.approx(
        round(a, 3) + round(b, 3), abs=1e-6
    )


@pytest.mark.parametrize("version", range(1, SCHEMA_VERSION))
@pytest.mark.parametrize("scenes", [5, None, "kite", [5, None], [{"layers": 5}], [{"layers": [None, 5, {"kind": "text", "properties": 5}]}],
                                    [{"layers": [{"kind": "text", "properties": {}}], "slots": [5]}], [{"shutter": 5}]])  # fmt: skip
def test_documents_of_every_version_that_are_no_documents_are_refused_in_words(version, scenes):
    with pytest.raises(DocumentError):
        load_project({"schema_version": version, "id": "a", "name": "A", "scenes": scenes})
