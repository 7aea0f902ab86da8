"""Keys of a property that has an expression besides."""

from tests.edits.desk import CONTEXT, desk, do, targets

from young_comet.edits import apply_edit, parse_edit


def expressed(base, layer_id, property_id, text):
    edit = {"kind": "set-expression", "scene": "reveal", "text": text,
            "targets": [{"layer": layer_id, "property": property_id}]}  # fmt: skip
    return apply_edit(base, parse_edit(edit), CONTEXT).project


def test_keys_below_an_expression_are_its_keys_and_the_expression_stays():
    """What it makes of them does not get into a key, and goes on when the last one is gone."""
    base = expressed(desk(), "box", "rotation", "keyed + 1000")
    where = [{"layer": "box", "property": "rotation"}]
    with_key = do(base, {"kind": "set-keys", "targets": where, "time_s": 1.0})
    prop = with_key.scenes[0].layers[0].properties["rotation"]
    assert len(prop.keys) == 5 and all(abs(key.value) < 100 for key in prop.keys)
    assert prop.expression == "keyed + 1000"
    stopped = do(base, {"kind": "clear-keys", "targets": where, "time_s": 1.5})
    prop = stopped.scenes[0].layers[0].properties["rotation"]
    assert (prop.value, prop.keys, prop.expression) == (-10, (), "keyed + 1000")
    ids = [key.id for key in base.scenes[0].layers[0].properties["rotation"].keys]
    for key_id in ids:
        keys = targets("box", "rotation", key_id)
        base = do(base, {"kind": "remove-keys", "keys": keys})
    prop = base.scenes[0].layers[0].properties["rotation"]
    assert (prop.value, prop.keys, prop.expression) == (0, (), "keyed + 1000")
