"""A frame's plan in words, a line for each pass."""

from __future__ import annotations

from ..effects.base import Region
from ..frame.contents import Texts
from ..frame.resolved import ResolvedFrame
from ..geometry.affine import Affine
from .passes import Pass, StackPlanner
from .sheets import EffectStep


def plan_frame(frame: ResolvedFrame, size: tuple[int, int], texts: Texts) -> tuple[Pass, ...]:
    """All passes of a frame over a picture of some size, from below up."""
    view = Affine.scaling(size[0] / frame.width, size[1] / frame.height)
    planner = StackPlanner(frame, view, size, texts)
    return tuple(
        each for index, layer in enumerate(frame.layers) for each in planner.told(layer, index)
    )


def plan_lines(passes: tuple[Pass, ...]) -> list[str]:
    """A line for each pass, and one for each step of its sheet or treatment."""
    lines: list[str] = []
    for each in passes:
        layer = each.layer
        facts = [f"{each.how:<12} {layer.id}", type(layer.content).__name__.removesuffix("Content")]
        facts.append(_size(each.region))
        if layer.opacity < 1:
            facts.append(f"{100 * layer.opacity:.0f} %")
        if layer.blend != "normal":
            facts.append(layer.blend)
        if each.states:
            facts.append(f"{each.states} moments")
        if each.reads:
            facts.append(f"reads {len(each.reads)}")
        if each.picture is not None and each.picture.how != "drawn":
            facts.append(f"{each.picture.how} at {each.picture.scale:.3g}")
        if each.name:
            facts.append(f"kept as {each.name.hex()[:8]}")
        lines.append(", ".join(facts))
        if each.sheet is not None:
            masks, slices = len(layer.masks), layer.slices is not None
            made = [f"    content over {_size(each.sheet.source)}"]
            made += [f"{masks} masks"] if masks else []
            made += ["sliced"] if slices else []
            lines.append(", ".join(made))
            lines += [_step(step) for step in each.sheet.steps]
        if each.treatment is not None:
            lines += [_step(step) for step in each.treatment.steps]
    return lines


def _step(step: EffectStep) -> str:
    reach = "everywhere" if step.reach == float("inf") else f"{step.reach:.0f} px"
    return f"    {step.kind.id} over {_size(step.area)}, reaches {reach}"


def _size(region: Region) -> str:
    left, top, right, bottom = region
    return f"{max(0, right - left)} x {max(0, bottom - top)} at {left}, {top}"
