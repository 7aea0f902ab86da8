"""Small documents for tests, all from Gullwing Bay Kite Week."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from PIL import Image

from young_comet.core.catalog import check_project
from young_comet.core.model import Keyframe, Layer, Project, Property, RateModel, Scene
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import layer_bounds
from young_comet.edits.base import find_layer
from young_comet.edits.context import PictureContext
from young_comet.errors import NotFoundError


def key(time_s: float, value: Any, easing: str = "linear", **more: Any) -> Keyframe:
    return Keyframe(
        id=f"k{round(time_s * 1000)}", time_s=time_s, value=value, easing=easing, **more
    )


def layer(id: str, kind: str, start_s: float = 0.0, end_s: float = 4.0, **values: Any) -> Layer:
    """Properties by id with ``__`` for a dot and ``_`` for a dash; a list of keys animates."""
    properties = {}
    for name, value in values.items():
        keyed = isinstance(value, list) and value and isinstance(value[0], Keyframe)
        name = name.replace("__", ".").replace("_", "-")
        properties[name] = Property(keys=tuple(value)) if keyed else Property(value=value)
    return Layer(
        id=id, name=id.title(), kind=kind, start_s=start_s, end_s=end_s, properties=properties
    )


def scene(*layers: Layer, width: int = 320, height: int = 180, **more: Any) -> Scene:
    values: dict[str, Any] = {"rate": RateModel(num=25), "length_s": 4.0, "ground": "#000000"}
    return Scene(
        id="reveal", name="Reveal", width=width, height=height, layers=layers, **{**values, **more}
    )


def project(*layers: Layer, **more: Any) -> Project:
    whole = Project(id="kites", name="Kite Week", scenes=(scene(*layers, **more),))
    return check_project(whole)


class NoAssets:
    """A store without files."""

    def read_asset(self, hash: str) -> bytes:
        raise NotFoundError("no such file")


class Files:
    """A store in memory."""

    def __init__(self, **files: bytes) -> None:
        self.files = dict(files)

    def read_asset(self, hash: str) -> bytes:
        return self.files[hash]


class Context:
    """What edits ask about the picture."""

    def __init__(self) -> None:
        self.library = MediaLibrary(NoAssets())

    def evaluator(self, project: Project, scene_id: str) -> SceneEvaluator:
        return SceneEvaluator(project, scene_id, library=self.library)

    def bounds(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Any:
        evaluator = SceneEvaluator(project, scene_id)
        found = find_layer(evaluator.scene, layer_id)
        return layer_bounds(evaluator, self.library, found, time_s)

    def seen(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Any:
        return PictureContext(self.library).seen(project, scene_id, layer_id, time_s)

    def box(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Any:
        return PictureContext(self.library).box(project, scene_id, layer_id, time_s)

    def outline(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Any:
        return PictureContext(self.library).outline(project, scene_id, layer_id, time_s)


def draw(
    document: Project, time_s: float = 0.0, scale: float = 1.0, reader: Any = None, **options: Any
) -> np.ndarray:
    """Pixels of the only scene at a time."""
    evaluator = SceneEvaluator(document, "reveal")
    frame = evaluator.at(time_s)
    size = (round(frame.width * scale), round(frame.height * scale))
    return Renderer(MediaLibrary(reader or NoAssets())).render(frame, *size, **options)


def png(width: int = 40, height: int = 30, colour: tuple[int, ...] = (255, 122, 69)) -> bytes:
    mode = "RGBA" if len(colour) == 4 else "RGB"
    target = io.BytesIO()
    Image.new(mode, (width, height), colour).save(target, "PNG")
    return target.getvalue()


CONTEXT = Context()
LIBRARY = CONTEXT.library
