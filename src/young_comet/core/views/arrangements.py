"""Arrangements as an editor shows them: when they hold, and what they say of each layer."""

from __future__ import annotations

import math
from typing import Any

from ..catalog import UNSEEN, arranged_spec
from ..model import Layer
from ..model.arrangements import holds_of, index_at
from ..resolve.courses import ArrangedLayer, ArrangedProperty
from ..resolve.scene import SceneEvaluator


def arrangements_view(evaluator: SceneEvaluator, time_s: float) -> dict[str, Any] | None:
    """The row of a scene's arrangements; None where it has none.

    ``row`` tells of each when it holds (``begin_s``, ``end_s``) and whether that is ``beyond`` the
    scene's end; ``here`` is the one that holds at a moment, or the nearer one between two.
    ``layers`` tells of each layer in which it is (``there``), what differs between them (``said``,
    names of properties), what of that its own keys take over (``keyed``) or add to (``added``), and
    the spans in which it is away (``away``, s within its own span).
    """
    scene = evaluator.scene
    if not scene.arrangements:
        return None
    holds = holds_of(scene)
    row = [
        {"id": each.id, "begin_s": begin, "end_s": end, "beyond": begin >= scene.length_s - 1e-6}
        for each, (begin, end) in zip(scene.arrangements, holds, strict=True)
    ]
    here = scene.arrangements[index_at(scene, time_s)].id
    return {"row": row, "here": here, "layers": _layers(evaluator)}


def _differs(layer: Layer, name: str) -> bool:
    """Whether a property that arrangements say something of is not the same in all of them."""
    prop = layer.properties.get(name)
    if not isinstance(prop, ArrangedProperty) or prop.added is not None:
        return True
    return len(prop.keys) > 1


def _layers(evaluator: SceneEvaluator) -> dict[str, Any]:
    scene = evaluator.scene
    found = {}
    for layer in scene.layers:
        stands = [each.stand(layer.id) for each in scene.arrangements]
        said = sorted(
            name for name in {each for stand in stands for each in stand.values}
            if _differs(layer, name)
        )  # fmt: skip
        there = [
            each.id for each, stand in zip(scene.arrangements, stands, strict=True) if stand.there
        ]
        told: dict[str, Any] = {"there": there, "seen": layer.kind not in UNSEEN}
        keyed, added = [], []
        for name in said:
            prop = layer.properties.get(name)
            if isinstance(prop, ArrangedProperty):
                if prop.added is not None:
                    added.append(name)
            elif prop is not None and prop.keys and arranged_spec(layer, name) is not None:
                keyed.append(name)
        told |= {"said": said, "keyed": keyed, "added": added, "away": []}
        if isinstance(layer, ArrangedLayer):
            for start, end in layer.away:
                start = max(layer.start_s, start if math.isfinite(start) else layer.start_s)
                end = min(layer.end_s, end if math.isfinite(end) else layer.end_s)
                if end > start:
                    told["away"].append((start, end))
        found[layer.id] = told
    return found
