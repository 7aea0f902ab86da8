"""The files that a command is asked to write: what their names say of their formats."""

from __future__ import annotations

import re
import shutil
import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from .core.export import FORMATS, by_ending
from .errors import DocumentError, NotFoundError

# A name with a number in it (frame_%04d.png) stands for one file for each frame.
_NUMBERED = re.compile(r"%0?(\d*)d")


def formats_of(paths: list[Path], *, still: bool = False) -> dict[str, Path]:
    """The formats that the endings of names ask for, each with its path; DocumentError where one is
    not known, NotFoundError where a folder is missing."""
    found: dict[str, Path] = {}
    for path in paths:
        if not still and (is_numbered(path) or _is_folder(path)):
            format = "frames"
        else:
            known = by_ending(_ending(path), still=still)
            if known is None:
                endings = [
                    f".{each.ending}" for each in FORMATS.values() if bool(each.still) == still
                ]
                words = f"a file name that ends in {', '.join(endings)}"
                raise DocumentError.expected("--out", words, str(path))
            format = known.id
        parent = path if _is_folder(path) else path.parent
        if not (parent if not _is_folder(path) else parent.parent).exists():
            raise NotFoundError(f"there is no folder {path.parent}", field="--out")
        if format in found:
            raise DocumentError(f"{found[format]} and {path} are of one format", field="--out")
        found[format] = path
    return found


def format_among(path: Path, *known: str) -> str:
    """The format that the ending of a file's name asks for, one of those known here."""
    format = path.suffix.lower().removeprefix(".")
    if format not in known:
        endings = ", ".join(f".{each}" for each in known)
        raise DocumentError.expected("--out", f"a file name that ends in {endings}", str(path))
    if not path.parent.exists():
        raise NotFoundError(f"there is no folder {path.parent}", field="--out")
    return format


def named_after(paths: list[Path], formats: tuple[str, ...]) -> dict[str, Path]:
    """Files of these formats, all called as the one path, which has no ending of its own."""
    if len(paths) != 1 or paths[0].suffix:
        words = "one name without an ending: the preset says which files are made"
        raise DocumentError.expected("--out", words, ", ".join(map(str, paths)))
    if not paths[0].parent.exists():
        raise NotFoundError(f"there is no folder {paths[0].parent}", field="--out")
    return {each: Path(f"{paths[0]}.{FORMATS.known(each).ending}") for each in formats}


def _ending(path: Path) -> str:
    """What a name ends in; a contact sheet's has two endings (.sheet.png)."""
    name = path.name.lower()
    return "sheet.png" if name.endswith(".sheet.png") else path.suffix.lower().removeprefix(".")


def is_numbered(path: Path) -> bool:
    """Whether a name stands for one PNG for each frame."""
    return path.suffix.lower() == ".png" and bool(_NUMBERED.search(path.name))


def _is_folder(path: Path) -> bool:
    return path.is_dir() or not path.suffix


@contextmanager
def written(paths: dict[str, Path]) -> Iterator[dict[str, Path]]:
    """The paths that a render writes to: frames that are to lie in a folder are zipped first, and
    laid there once all is well."""
    frames = paths.get("frames")
    if frames is None or frames.suffix.lower() == ".zip":
        yield paths
        return
    folder = frames if _is_folder(frames) else frames.parent
    near = folder if folder.is_dir() else folder.parent
    with tempfile.TemporaryDirectory(prefix=".frames-", dir=near) as made:
        zipped = Path(made) / "frames.zip"
        yield {**paths, "frames": zipped}
        folder.mkdir(exist_ok=True)
        with zipfile.ZipFile(zipped) as opened:
            for entry in opened.infolist():
                target = folder / entry.filename
                if is_numbered(frames):
                    number = int(entry.filename.rsplit("_", 1)[1].removesuffix(".png"))
                    target = folder / _with_number(frames.name, number)
                with opened.open(entry) as source, target.open("wb") as file:
                    shutil.copyfileobj(source, file)


def _with_number(name: str, number: int) -> str:
    return _NUMBERED.sub(lambda found: str(number).zfill(int(found[1] or 0)), name)
