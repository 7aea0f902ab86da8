"""What our engine adds to the bare library calls, written out by hand beside it, in one run.

Each pair does the same work on the same pictures at 1920 x 1080, by turns, with nothing kept and
with one thread; the results are compared.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

import cv2
import numpy as np
import skia

from young_comet.core.catalog import check_project
from young_comet.core.model import Effect, Layer, Mask, Project, Property, RateModel, Scene
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.pixels import blur as blurs
from young_comet.core.resolve import SceneEvaluator

W, H, ROUNDS = 1920, 1080, 20


class NoFiles:
    def read_asset(self, hash: str) -> bytes:
        raise FileNotFoundError(hash)


def scene(*layers: Layer) -> Project:
    whole = Scene(
        id="s", name="S", width=W, height=H, rate=RateModel(num=25), length_s=4, layers=layers
    )
    return check_project(Project(id="p", name="P", scenes=(whole,)))


def layer(id: str, kind: str, *, effects=(), masks=(), **properties) -> Layer:  # type: ignore[no-untyped-def]
    named = {k.replace("__", "."): Property(value=v) for k, v in properties.items()}
    return Layer(
        id=id, name=id, kind=kind, start_s=0, end_s=4, properties=named, effects=effects,
        masks=masks,
    )  # fmt: skip


PANEL = {"shape__size": [1200.0, 700.0], "fill__colour": "#ff7a45"}
BOX = (360.0, 190.0, 1560.0, 890.0)


def info(width: int = W, height: int = H) -> skia.ImageInfo:
    return skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)


def surface(pixels: np.ndarray) -> skia.Surface:
    return skia.Surface.MakeRasterDirect(info(), pixels, pixels.strides[0])


def image(pixels: np.ndarray) -> skia.Image:
    return skia.Image.MakeFromRaster(skia.Pixmap(info(), pixels, pixels.strides[0]))


def ground() -> np.ndarray:
    pixels = np.zeros((H, W, 4), np.uint8)
    surface(pixels).getCanvas().clear(skia.ColorBLACK)
    return pixels


def bare_panel(pixels: np.ndarray) -> None:
    paint = skia.Paint(AntiAlias=True, Color=0xFFFF7A45)
    surface(pixels).getCanvas().drawRect(skia.Rect(*BOX), paint)


def bare_blur() -> np.ndarray:
    """A panel drawn on its own, blurred with room for what spreads, laid on black."""
    reach = blurs.reach_of(20)
    left, top = max(0, int(BOX[0]) - reach), max(0, int(BOX[1]) - reach)
    right, bottom = min(W, int(BOX[2]) + reach), min(H, int(BOX[3]) + reach)
    right, bottom = right + (left - right) % 16, bottom + (top - bottom) % 16
    own = np.zeros((bottom - top, right - left, 4), np.uint8)
    small = info(right - left, bottom - top)
    canvas = skia.Surface.MakeRasterDirect(small, own, own.strides[0]).getCanvas()
    canvas.translate(-left, -top)
    canvas.drawRect(skia.Rect(*BOX), skia.Paint(AntiAlias=True, Color=0xFFFF7A45))
    own = blurs.gaussian(own, 20.0)
    pixels = ground()
    picture = skia.Image.MakeFromRaster(skia.Pixmap(small, own, own.strides[0]))
    surface(pixels).getCanvas().drawImage(picture, left, top)
    return pixels


def bare_mask() -> np.ndarray:
    """A panel within a circle."""
    pixels = ground()
    own = np.zeros((H, W, 4), np.uint8)
    bare_panel(own)
    cover = np.zeros((H, W), np.uint8)
    mask = skia.Surface.MakeRasterDirect(skia.ImageInfo.MakeA8(W, H), cover, cover.strides[0])
    k = 300 * 0.5522847498
    path = skia.Path()
    path.moveTo(960, 240)
    path.cubicTo(960 + k, 240, 1260, 540 - k, 1260, 540)
    path.cubicTo(1260, 540 + k, 960 + k, 840, 960, 840)
    path.cubicTo(960 - k, 840, 660, 540 + k, 660, 540)
    path.cubicTo(660, 540 - k, 960 - k, 240, 960, 240)
    mask.getCanvas().drawPath(path, skia.Paint(AntiAlias=True))
    part = own[190:890, 360:1560]
    scaled = cv2.multiply(part, cv2.merge([cover[190:890, 360:1560]] * 4), scale=1 / 255)
    own[190:890, 360:1560] = scaled
    surface(pixels).getCanvas().drawImage(image(own), 0, 0)
    return pixels


def bare_blend() -> np.ndarray:
    """Two panels, the upper one multiplied."""
    pixels = ground()
    bare_panel(pixels)
    paint = skia.Paint(AntiAlias=True, Color=0xFF2F9FB3, BlendMode=skia.BlendMode.kMultiply)
    surface(pixels).getCanvas().drawRect(skia.Rect(560, 240, 1360, 840), paint)
    return pixels


def bare_wave() -> np.ndarray:
    """A panel bent by absolute maps computed on every fourth pixel."""
    own = np.zeros((H, W, 4), np.uint8)
    bare_panel(own)
    columns, rows = (np.arange(0, size + 8, 4, dtype=np.float32) for size in (W, H))
    gx, gy = np.meshgrid(columns, rows)
    shift = 16 * np.sin((gx - 960) * (2 * np.pi / 160))
    maps = []
    step = np.array([[0.25, 0, 0.125], [0, 0.25, 0.125]])
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    for m in (gx, gy + shift):
        coarse = np.ascontiguousarray(m, np.float32)
        maps.append(cv2.warpAffine(coarse, step, (W, H), flags=flags) - 0.5)
    bent = cv2.remap(own, maps[0], maps[1], cv2.INTER_LINEAR)
    pixels = ground()
    surface(pixels).getCanvas().drawImage(image(bent), 0, 0)
    return pixels


def cases() -> dict[str, tuple[Project, Callable[[], np.ndarray]]]:
    k = 300 * 0.5522847498  # a circle of radius 300 about the panel's middle
    circle = (
        f"M0 -300 C{k} -300 300 {-k} 300 0 C300 {k} {k} 300 0 300 C{-k} 300 -300 {k} -300 0 "
        f"C-300 {-k} {-k} -300 0 -300 Z"
    )
    blur, wave = Effect(id="e", kind="gaussian-blur"), Effect(id="e", kind="wave")
    upper = layer(
        "upper", "shape", shape__size=[800.0, 600.0], fill__colour="#2f9fb3", blend="multiply"
    )
    mask = Mask(id="m", name="M")
    return {
        "gaussian blur, sigma 20": (
            scene(layer("panel", "shape", effects=(blur,), **PANEL, effect__e__size=[20.0, 20.0])),
            bare_blur,
        ),
        "a mask": (
            scene(layer("panel", "shape", masks=(mask,), **PANEL, mask__m__path=circle)),
            bare_mask,
        ),
        "blend mode multiply": (scene(layer("panel", "shape", **PANEL), upper), bare_blend),
        "wave": (
            scene(layer("panel", "shape", effects=(wave,), **PANEL, effect__e__flow=0.0)),
            bare_wave,
        ),
    }


def main() -> None:
    cv2.setNumThreads(1)
    for name, (document, bare) in cases().items():
        frame = SceneEvaluator(document, "s").at(0.0)
        ours, theirs = [], []
        pictures: dict[str, np.ndarray] = {}
        for round_ in range(ROUNDS + 2):
            renderer = Renderer(MediaLibrary(NoFiles()), limit_bytes=1)  # nothing kept
            # By turns first and second: what comes second finds the memory warm.
            spent = {}
            works = [("ours", lambda r=renderer, f=frame: r.render(f, W, H)), ("by hand", bare)]
            for who, work in works if round_ % 2 else works[::-1]:
                start = time.perf_counter()
                picture = work()
                spent[who] = (time.perf_counter() - start) * 1e3
                pictures[who] = picture
            if round_ >= 2:
                ours.append(spent["ours"])
                theirs.append(spent["by hand"])
        ratio = statistics.median(ours) / statistics.median(theirs)
        far = np.abs(pictures["ours"].astype(int) - pictures["by hand"]).max()
        print(
            f"{name:26s} ours {statistics.median(ours):6.1f} ms, by hand "
            f"{statistics.median(theirs):6.1f} ms, ratio {ratio:.2f} "
            f"(aim 1.15); largest difference {far}",
            flush=True,
        )


if __name__ == "__main__":
    main()
