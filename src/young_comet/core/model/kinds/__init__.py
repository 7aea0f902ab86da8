"""The kinds of property: one object each, as ``Kind.NUMBER``."""

from .base import Kind, kind_of, registered
from .colours import ColourKind, SpotsKind, StopsKind, resolve_colour
from .curves import CurveKind, PathKind, check_curve
from .named import AssetKind, FontKind, LayerKindId, SceneKind
from .numbers import Number, PointKind
from .words import (
    ChoiceKind,
    DashKind,
    EasingKind,
    FeaturesKind,
    FlagKind,
    TextKind,
    WordsKind,
    as_text,
    check_easing,
    dash_lengths,
    features_of,
)

Kind.NUMBER = registered(Number())
Kind.POINT = registered(PointKind())
Kind.COLOUR = registered(ColourKind())
Kind.STOPS = registered(StopsKind())
Kind.PATH = registered(PathKind())
Kind.CURVE = registered(CurveKind())
Kind.SPOTS = registered(SpotsKind())
Kind.TEXT = registered(TextKind())
Kind.WORDS = registered(WordsKind())
Kind.EASING = registered(EasingKind())
Kind.DASH = registered(DashKind())
Kind.FEATURES = registered(FeaturesKind())
Kind.CHOICE = registered(ChoiceKind())
Kind.FLAG = registered(FlagKind())
Kind.ASSET = registered(AssetKind())
Kind.FONT = registered(FontKind())
Kind.LAYER = registered(LayerKindId())
Kind.SCENE = registered(SceneKind())

__all__ = [
    "Kind",
    "as_text",
    "check_curve",
    "check_easing",
    "dash_lengths",
    "features_of",
    "kind_of",
    "resolve_colour",
]
