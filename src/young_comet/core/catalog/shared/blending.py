"""How a layer mixes with what lies below, and through what it is shown."""

from __future__ import annotations

from ...model.specs import Kind, Needed, PropertySpec, named, where
from ...pixels.blend import BLEND_MODES

# A layer may have so many mattes, which are joined one after another as masks are.
MOST_MATTES = 4


def matte_name(number: int, part: str) -> str:
    """The property of a part ("layer", "mode", "by", "inverted") of the first matte, or of a
    further one."""
    return f"matte.{part}" if number == 1 else f"matte.{number}.{part}"


def _further_mattes() -> tuple[PropertySpec, ...]:
    found: list[PropertySpec] = []
    for number in range(2, MOST_MATTES + 1):
        one_less = where(matte_name(number - 1, "layer"), given=True)
        own = where(matte_name(number, "layer"), given=True)
        found += [
            PropertySpec(
                matte_name(number, "layer"), "And", Kind.LAYER, "", "Matte", shown_when=one_less,
                help="A further layer through which this one is shown",
            ),
            PropertySpec(
                matte_name(number, "mode"), "Joined", Kind.CHOICE, "union", "Matte", shown_when=own,
                options=(
                    ("union", "Added"), ("minus", "Taken away"), ("intersect", "Where both are"),
                    ("exclude", "Where only one is"),
                ),
            ),
            PropertySpec(
                matte_name(number, "by"), "Through its", Kind.CHOICE, "alpha", "Matte",
                options=(("alpha", "Alpha"), ("luminance", "Luminance")), shown_when=own,
            ),
            PropertySpec(
                matte_name(number, "inverted"), "Outside it", Kind.FLAG, False, "Matte",
                shown_when=own,
            ),
        ]  # fmt: skip
    return tuple(found)


BLENDING = (
    PropertySpec(
        "blend", "Blended", Kind.CHOICE, "normal", "Blending", options=named(BLEND_MODES),
        widget="steps", help="How its colours mix with what lies below (W3C compositing)",
    ),
    PropertySpec(
        "composite", "Shown", Kind.CHOICE, "over", "Blending",
        options=(
            ("over", "Over what lies below"), ("atop", "Only atop of layers below"),
            ("knock-out", "Cut out of layers below"),
        ),
        help="The ground and backdrops at the bottom of the stack do not count as layers here",
    ),
    PropertySpec(
        "matte.layer", "Matte", Kind.LAYER, "", "Matte",
        help="Shown only through another layer, which may itself be hidden",
    ),
    PropertySpec(
        "matte.by", "Through its", Kind.CHOICE, "alpha", "Matte",
        options=(("alpha", "Alpha"), ("luminance", "Luminance")),
    ),
    PropertySpec("matte.inverted", "Outside it", Kind.FLAG, False, "Matte"),
    *_further_mattes(),
    PropertySpec(
        "matte.below", "Within the layer below", Kind.FLAG, False, "Matte",
        help="Shown only where the next layer below is",
    ),
    PropertySpec(
        "matte.before", "Before effects", Kind.FLAG, False, "Matte",
        shown_when=(Needed(("matte.layer", "matte.below"), given=True), Needed(layer="effects")),
        help="Before its effects: a shadow or a glow is that of what the mattes leave",
    ),
    PropertySpec(
        "motion-blur", "Motion blur", Kind.CHOICE, "scene", "Motion blur",
        options=(("scene", "As the scene has it"), ("on", "On"), ("off", "Off")),
    ),
)  # fmt: skip
