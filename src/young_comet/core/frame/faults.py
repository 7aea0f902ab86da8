"""What could not be drawn: which layer, which of its effects, why."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from ...errors import YoungCometError
from ..model import Project, Scene

log = logging.getLogger(__name__)

# A frame names so many faults at most.
MAX_FAULTS = 50


@dataclass(frozen=True, slots=True)
class Fault:
    """Something of a frame that is missing in its picture.

    ``layer`` is the id of a layer of the scene that was drawn, ``inner`` that of a layer within
    the scene which it places ("" where it is the layer itself). ``part`` tells what of it is
    missing ("" for all of it): the label of an effect, or a file. ``why`` is a sentence.
    """

    layer: str
    inner: str
    part: str
    why: str


class FaultLog:
    """Gathers faults while a frame is drawn. It belongs to one thread, as the renderer does."""

    def __init__(self) -> None:
        self._found: dict[Fault, None] = {}
        self._path: list[str] = []
        self._logged: set[tuple[str, str]] = set()
        # Grows with every fault: whoever keeps pixels compares it before and after.
        self.count = 0

    @contextmanager
    def within(self, layer_id: str) -> Iterator[None]:
        """Faults that come up meanwhile concern that layer."""
        self._path.append(layer_id)
        try:
            yield
        finally:
            self._path.pop()

    def note(self, part: str, error: Exception | str) -> None:
        """Keeps what went wrong with the layer that is being drawn; the log tells it once."""
        why = error if isinstance(error, str) else reason(error)
        outer = self._path[0] if self._path else ""
        inner = self._path[-1] if len(self._path) > 1 else ""
        self.count += 1
        if len(self._found) < MAX_FAULTS:
            self._found[Fault(outer, inner, part, why)] = None
        if isinstance(error, Exception) and (part, why) not in self._logged:
            if len(self._logged) > 1000:
                self._logged.clear()
            self._logged.add((part, why))
            ours = isinstance(error, YoungCometError)
            log.warning("layer %s%s could not be drawn: %s", outer, f" / {part}" if part else "",
                        why, exc_info=None if ours else error)  # fmt: skip

    def taken(self) -> tuple[Fault, ...]:
        """The faults since they were taken last."""
        found, self._found = tuple(self._found), {}
        return found


def reason(error: Exception) -> str:
    """Why something failed, as a sentence: our own words, or what an unforeseen error says."""
    if isinstance(error, YoungCometError):
        return str(error)
    if isinstance(error, MemoryError):
        return "it needs more memory than there is"
    if isinstance(error, RecursionError):
        return "it lies too deep within itself"
    text = " ".join(str(error).split())
    shown = f"{type(error).__name__}: {text}" if text else type(error).__name__
    return shown if len(shown) <= 200 else shown[:197] + "..."


def fault_words(project: Project, scene: Scene, fault: Fault) -> str:
    """A fault as a sentence that names its layer."""
    name = _name(scene, fault.layer)
    if fault.inner:
        inner = next((n for s in project.scenes if (n := _name(s, fault.inner, ""))), "a layer")
        name = f"{inner} (within {name})"
    what = f"{fault.part} of {name}" if fault.part else name
    return f"{what} cannot be drawn: {fault.why}"


def _name(scene: Scene, layer_id: str, otherwise: str = "a layer") -> str:
    return next((f"{la.name!r}" for la in scene.layers if la.id == layer_id), otherwise)
