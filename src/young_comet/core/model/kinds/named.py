"""Ids of other things of the project; "" is nothing."""

from __future__ import annotations

from .base import Kind


class AssetKind(Kind):
    """The id of an asset, of the kinds that the declaration lists."""

    id = "asset"
    names = "asset"


class FontKind(Kind):
    """A typeface that ships with the product, or ``asset:ID``."""

    id = "font"
    names = "asset"


class LayerKindId(Kind):
    """The id of a layer of the same scene."""

    id = "layer"
    names = "layer"


class SceneKind(Kind):
    """The id of a scene."""

    id = "scene"
    names = "scene"
