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
                matte_name(number, "layer"), f"Matte {number} layer", Kind.LAYER, "", "Matte",
                shown_when=one_less,
                help="A further layer through which this one is shown",
            ),
            PropertySpec(
                matte_name(number, "mode"), f"Matte {number} joining", Kind.CHOICE, "union",
                "Matte", shown_when=own, help="How it is joined with the mattes before it",
                options=(
                    ("union", "Added"), ("minus", "Taken away"), ("intersect", "Where both are"),
                    ("exclude", "Where only one is"),
                ),
            ),
            PropertySpec(
                matte_name(number, "by"), f"Matte {number} channel", Kind.CHOICE, "alpha", "Matte",
                options=(("alpha", "Alpha"), ("luminance", "Luminance")), shown_when=own,
                help="What of that layer counts: how opaque or how light it is",
            ),
            PropertySpec(
                matte_name(number, "inverted"), f"Inverted matte {number}", Kind.FLAG, False,
                "Matte",
                shown_when=own, help="Seen where that layer is not",
            ),
        ]  # fmt: skip
    return tuple(found)


BLENDING = (
    PropertySpec(
        "blend", "Blend mode", Kind.CHOICE, "normal", "Blending", options=named(BLEND_MODES),
        widget="steps", help="How its colours mix with what lies below (W3C compositing)",
    ),
    PropertySpec(
        "composite", "Visible area", Kind.CHOICE, "over", "Blending",
        options=(
            ("over", "Everywhere"), ("atop", "On layers below"),
            ("knock-out", "Cut out of layers"),
        ),
        help="Where it is seen in relation to the layers below. The ground and backdrops at "
        "the bottom of the stack do not count as layers here",
    ),
    PropertySpec(
        "matte.layer", "Matte layer", Kind.LAYER, "", "Matte",
        help="Shown only through another layer, which may itself be hidden",
    ),
    PropertySpec(
        "matte.by", "Matte channel", Kind.CHOICE, "alpha", "Matte",
        options=(("alpha", "Alpha"), ("luminance", "Luminance")),
        help="What of the matte layer counts: how opaque or how light it is",
    ),
    PropertySpec("matte.inverted", "Inverted matte", Kind.FLAG, False, "Matte",
        help="Seen where the matte is not"),
    *_further_mattes(),
    PropertySpec(
        "matte.below", "Clipped to below", Kind.FLAG, False, "Matte",
        help="Shown only where the next layer below is",
    ),
    PropertySpec(
        "matte.before", "Matte before effects", Kind.FLAG, False, "Matte",
        shown_when=(Needed(("matte.layer", "matte.below"), given=True), Needed(layer="effects")),
        help="Before its effects: a shadow or a glow is that of what the mattes leave",
    ),
    PropertySpec(
        "motion-blur", "Motion blur", Kind.CHOICE, "scene", "Motion blur",
        options=(("scene", "As the scene has it"), ("on", "On"), ("off", "Off")),
        help="Blurs what moves while the shutter is open; the scene has the shutter's angle",
    ),
)  # fmt: skip
