"""The kinds of layers and their declared properties."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..model.specs import Kind, PropertySpec, where
from ..registry import Registry
from .shared import (
    ACROSS,
    ALIGNED,
    ALONG,
    BEHIND,
    BLENDING,
    COPIES,
    DRAWN,
    EMBER,
    FITTED,
    LETTERS,
    LINES,
    NUMBER,
    OPACITY,
    PLACE,
    SHADOW,
    SLICES,
    SOUND_TIME,
    TIME,
    WORDS,
    heard_specs,
    paint_specs,
    pitch_spec,
    stroke_specs,
)


@dataclass(frozen=True)
class LayerKind:
    """``placed`` kinds have a place of their own; the others cover the frame."""

    id: str
    label: str
    icon: str
    specs: tuple[PropertySpec, ...]
    placed: bool = True

    def spec(self, property_id: str) -> PropertySpec | None:
        """The declaration of a property, None where there is none."""
        return self._by_id.get(property_id)

    @property
    def _by_id(self) -> dict[str, PropertySpec]:
        return _index(self)


_INDEX: dict[str, dict[str, PropertySpec]] = {}


def _index(kind: LayerKind) -> dict[str, PropertySpec]:
    if kind.id not in _INDEX:
        index = {spec.id: spec for spec in kind.specs}
        for spec in kind.specs:
            if spec.split:
                index |= {part.id: part for part in spec.parts()}
        _INDEX[kind.id] = index
    return _INDEX[kind.id]


_DUSK = ((0.0, "#17224d"), (0.55, "#7a3f6d"), (1.0, "#f08a4b"))

BACKDROP = LayerKind(
    "backdrop", "Backdrop", "backdrop",
    (OPACITY, *paint_specs("#17224d", _DUSK, pictures=False), *BLENDING),
    placed=False,
)  # fmt: skip

TREATMENT = LayerKind(
    "treatment", "Treatment", "treatment",
    (OPACITY, *(spec for spec in BLENDING if spec.id not in ("composite", "motion-blur"))),
    placed=False,
)  # fmt: skip


def _undrawn(*specs: PropertySpec) -> tuple[PropertySpec, ...]:
    """Not shown for a drawing, whose paths have paints of their own."""
    single = where("shape.kind", besides=("drawing",))
    return tuple(replace(spec, shown_when=spec.shown_when + single) for spec in specs)


_ROUND = ("rectangle", "polygon", "star")
SHAPE = LayerKind(
    "shape", "Shape", "shape",
    (
        *PLACE,
        PropertySpec(
            "shape.kind", "Shape type", Kind.CHOICE, "rectangle", "Shape",
            options=(
                ("rectangle", "Rectangle"), ("ellipse", "Ellipse"), ("polygon", "Polygon"),
                ("star", "Star"), ("line", "Line"), ("path", "Path"),
                ("drawing", "Drawing of several paths"),
            ),
            help="The figure that is drawn",
        ),
        PropertySpec(
            "shape.size", "Size", Kind.POINT, (400.0, 240.0), "Shape", unit="px", minimum=0,
            maximum=20000, percent_of="frame", split=True,
            shown_when=where("shape.kind", "rectangle", "ellipse"),
            help="Its width and height",
        ),
        PropertySpec(
            "shape.radius", "Radius", Kind.NUMBER, 200.0, "Shape", unit="px", minimum=0,
            maximum=20000, shown_when=where("shape.kind", "polygon", "star"),
            help="From its middle to its corners",
        ),
        PropertySpec(
            "shape.corners", "Corners", Kind.NUMBER, 5.0, "Shape", minimum=3, maximum=200,
            whole=True, decimals=0, shown_when=where("shape.kind", "polygon", "star"),
            help="How many corners, or points of a star",
        ),
        PropertySpec(
            "shape.inner", "Inner radius", Kind.NUMBER, 45.0, "Shape", unit="%", minimum=1,
            maximum=100, shown_when=where("shape.kind", "star"),
            help="How far in a star's notches lie, of its radius",
        ),
        PropertySpec(
            "shape.corner-radius", "Corner radius", Kind.NUMBER, 0.0, "Shape", unit="px",
            minimum=0, maximum=10000, shown_when=where("shape.kind", *_ROUND),
            help="How round its corners are",
        ),
        PropertySpec(
            "shape.start", "Line start", Kind.POINT, (-300.0, 0.0), "Shape", unit="px",
            minimum=-1e6, maximum=1e6, shown_when=where("shape.kind", "line"),
            help="Where the line begins, from the layer's origin",
        ),
        PropertySpec(
            "shape.end", "Line end", Kind.POINT, (300.0, 0.0), "Shape", unit="px",
            minimum=-1e6, maximum=1e6, shown_when=where("shape.kind", "line"),
            help="Where the line ends, from the layer's origin",
        ),
        PropertySpec(
            "shape.path", "Path", Kind.PATH, "M-150 90 C-60 -150 60 -150 150 90 Z", "Shape",
            shown_when=where("shape.kind", "path"),
            help="SVG path data; (0, 0) is the layer's origin",
        ),
        *FITTED,
        *_undrawn(
            PropertySpec("fill.on", "Fill", Kind.FLAG, True, "Fill",
                help="Whether its inside is painted"),
            *paint_specs("#ff7a45", EMBER),
            *stroke_specs(0.0),
            *DRAWN,
        ),
        *BLENDING,
        *SLICES,
        *COPIES,
        *ALIGNED,
    ),
)  # fmt: skip

TEXT = LayerKind(
    "text", "Text", "text",
    (
        *PLACE,
        *WORDS,
        *LETTERS,
        *LINES,
        *NUMBER,
        *ALONG,
        PropertySpec("fill.on", "Fill", Kind.FLAG, True, "Fill",
            help="Whether its inside is painted"),
        ACROSS,
        *paint_specs("#f8f1e4", EMBER),
        *stroke_specs(0.0),
        *SHADOW,
        *BEHIND,
        *BLENDING,
        *SLICES,
        *COPIES,
        *ALIGNED,
    ),
)  # fmt: skip

_FITS = (
    ("natural", "At its natural size"), ("fit", "Fitted into the frame"),
    ("fill", "Filling the frame"),
)  # fmt: skip

PICTURE = LayerKind(
    "picture", "Picture", "picture",
    (
        *PLACE,
        PropertySpec("picture.asset", "Picture", Kind.ASSET, "", "Picture",
            help="The picture of the project's assets that is shown"),
        PropertySpec(
            "picture.fit", "Picture size", Kind.CHOICE, "natural", "Picture", options=_FITS,
            help="At its natural size, or fitted into or filling the frame",
        ),
        *BLENDING,
        *SLICES,
        *COPIES,
        *ALIGNED,
    ),
)  # fmt: skip

CLIP = LayerKind(
    "clip", "Clip", "clip",
    (
        *PLACE,
        PropertySpec("clip.asset", "Footage", Kind.ASSET, "", "Clip", assets=("clip",),
            help="The footage of the project's assets that is played"),
        PropertySpec("clip.fit", "Footage size", Kind.CHOICE, "natural", "Clip", options=_FITS,
            help="At its natural size, or fitted into or filling the frame"),
        *TIME,
        PropertySpec(
            "sound.on", "On", Kind.FLAG, False, "Sound",
            help="Whether the sound that was recorded with it is heard",
        ),
        *heard_specs(where("sound.on", True)),
        pitch_spec(where("sound.on", True)),
        *BLENDING,
        *SLICES,
        *COPIES,
        *ALIGNED,
    ),
)  # fmt: skip

CARRIER = LayerKind(
    "carrier", "Carrier", "carrier",
    (*(spec for spec in PLACE if spec.id != "opacity"), *ALIGNED),
)  # fmt: skip

SOUND = LayerKind(
    "sound", "Sound", "sound",
    (
        PropertySpec("sound.asset", "Sound", Kind.ASSET, "", "Sound", assets=("sound",),
            help="The sound of the project's assets that is played"),
        *heard_specs(),
        pitch_spec(),
        *SOUND_TIME,
    ),
    placed=False,
)  # fmt: skip

SCENE = LayerKind(
    "scene", "Scene", "scene",
    (
        *PLACE,
        PropertySpec("scene.id", "Scene", Kind.SCENE, "", "Scene",
            help="The scene that is shown as this layer"),
        PropertySpec(
            "scene.ground", "Scene ground", Kind.FLAG, True, "Scene",
            help="Off: only its layers, on what lies below",
        ),
        PropertySpec(
            "scene.sharp", "Sharp scaling", Kind.FLAG, True, "Scene",
            help="Drawn anew at the size that it has here, so that nothing blurs when enlarged",
        ),
        PropertySpec(
            "scene.through", "Open stack", Kind.FLAG, False, "Scene",
            help="Its layers take part in this stack: blending and treatments reach what lies "
            "below. Masks, effects and blending of this layer then do nothing",
        ),
        *TIME,
        *heard_specs(),
        *BLENDING,
        *SLICES,
        *COPIES,
        *ALIGNED,
    ),
)  # fmt: skip

LAYER_KINDS: Registry[LayerKind] = Registry(
    "layer kind", (BACKDROP, SHAPE, TEXT, PICTURE, CLIP, SOUND, TREATMENT, CARRIER, SCENE)
)


# What a saved move can hold: the properties that moves work on.
MOVABLE: dict[str, PropertySpec] = {
    spec.id: spec
    for kind, names in (
        (SHAPE, ("position", "rotation", "scale", "opacity", "tilt", "turn", "drawn.to")),
        (TEXT, ("text.tracking",)),
    )
    for spec in kind.specs
    if spec.id in names
}


def layer_kind(kind_id: str) -> LayerKind:
    """The kind of that id, or DocumentError."""
    return LAYER_KINDS.known(kind_id)
