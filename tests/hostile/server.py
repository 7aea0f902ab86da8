"""A server of its own in a process, to be killed and started again."""

from __future__ import annotations

import json
import os
import secrets
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any


class Server:
    """``young-comet serve`` on a data folder at a free port. ``prelude`` is Python that runs first."""

    def __init__(self, data: Path, *, prelude: str = "", previews: int = 1) -> None:
        self.data = data
        self.mark = f"kite-{os.getpid()}-{secrets.token_hex(8)}"
        main = f"{prelude}\nimport sys\nfrom young_comet.cli import main\nsys.argv = ['young-comet', 'serve', '--data', {str(data)!r}, '--port', '0']\nmain()"
        environment = {
            **os.environ,
            "YOUNG_COMET_PREVIEW_PROCESSES": str(previews),
            "PYTHONUNBUFFERED": "1",
            "YOUNG_COMET_TEST_MARK": self.mark,
        }
        self.process = subprocess.Popen(
            [sys.executable, "-c", main], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, env=environment, text=True,
            start_new_session=True,
        )  # fmt: skip
        line = self.process.stdout.readline() if self.process.stdout else ""
        self.address = line.strip().rsplit(" ", 1)[-1]
        self._wait()

    def _wait(self) -> None:
        until = time.monotonic() + 30
        while time.monotonic() < until:
            try:
                self.ask("GET", "/api/projects")
                return
            except (urllib.error.URLError, ConnectionError, OSError):
                time.sleep(0.05)
        raise AssertionError("the server does not answer")

    def ask(self, method: str, path: str, body: Any = None, timeout: float = 20) -> Any:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            self.address + path,
            data=data,
            method=method,
            headers={"content-type": "application/json"},
        )
        with urllib.request.urlopen(request, timeout=timeout) as answer:
            text = answer.read()
        return json.loads(text) if text and text[:1] in b"[{" else text

    def edit(self, project: str, edit: Any) -> Any:
        return self.ask("POST", f"/api/projects/{project}/edits", {"edit": edit})

    def family(self) -> set[int]:
        """The server's process and all that it has started, however far down and by whatever thread:
        they share a mark in their environment."""
        return with_mark(self.mark)

    def kill(self) -> None:
        """As the kernel does when memory runs out."""
        self.process.kill()
        self.process.wait()
        if self.process.stdout:
            self.process.stdout.close()

    def terminate(self, signum: int = signal.SIGTERM) -> float:
        """Asks it to end; the seconds that it took."""
        began = time.monotonic()
        self.process.send_signal(signum)
        self.process.wait(timeout=30)
        if self.process.stdout:
            self.process.stdout.close()
        return time.monotonic() - began


def with_mark(mark: str) -> set[int]:
    """The processes that have a mark in their environment."""
    found = set()
    for process in Path("/proc").glob("[0-9]*"):
        try:
            if mark.encode() in (process / "environ").read_bytes():
                found.add(int(process.name))
        except OSError:
            continue
    return found


def alive(pids: set[int]) -> set[int]:
    """Those that still run."""
    found = set()
    for pid in pids:
        try:
            state = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
        except OSError:
            continue
        if state not in "ZX":
            found.add(pid)
    return found


def gone_within(pids: set[int], seconds: float) -> set[int]:
    """Waits for processes to end; those that have not."""
    until = time.monotonic() + seconds
    while time.monotonic() < until and alive(pids):
        time.sleep(0.02)
    return alive(pids)


def new_project(server: Server) -> str:
    made = server.ask("POST", "/api/projects", {"name": "Kite Week"})
    project = str(made["project"]["id"])
    scene = {
        "id": "reveal",
        "name": "Reveal",
        "width": 320,
        "height": 180,
        "rate": {"num": 25},
        "length_s": 20.0,
    }
    server.edit(project, {"kind": "add-scene", "scene": scene})
    layer = {"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 20}
    server.edit(project, {"kind": "add-layers", "scene": "reveal", "layers": [layer]})
    return project


def set_opacity(server: Server, project: str, value: float) -> int:
    target = {"layer": "kite", "property": "opacity", "value": value}
    answer = server.edit(project, {"kind": "set-values", "scene": "reveal", "targets": [target]})
    return int(answer["revision"])


def opacity_of(server: Server, project: str) -> tuple[int, float]:
    state = server.ask("GET", f"/api/projects/{project}")
    layer = state["project"]["scenes"][0]["layers"][0]
    return state["revision"], layer["properties"]["opacity"]["value"]


def killed(data: Path, times: int, seed: int) -> list[str]:
    """Starts a server, edits and renders, and kills it, again and again: what is lost or left."""
    import random

    chance, troubles = random.Random(seed), []
    project, acknowledged, value = "", 0, 0.0
    for turn in range(times):
        server = Server(data)
        if not project:
            project = new_project(server)
        elif opacity_of(server, project) != (acknowledged, value):
            troubles.append(
                f"turn {turn}: {opacity_of(server, project)} where {(acknowledged, value)} was acknowledged"
            )
        if chance.random() < 0.5:
            server.ask("POST", "/api/renders", {"project": project, "scene": "reveal"})
        for n in range(chance.randint(1, 12)):
            value = float((turn * 13 + n) % 100) + 0.5
            acknowledged = set_opacity(server, project, value)
        time.sleep(chance.choice([0, 0.1, 0.6, 2.5]))
        if server.process.pid not in server.family():
            troubles.append("the server's processes cannot be told")
        server.kill()
        # One that was just being started first loads its libraries, and then sees that it is alone.
        if left := gone_within(server.family(), 20):
            troubles.append(f"turn {turn}: processes {left} are left")
    server = Server(data)
    if opacity_of(server, project) != (acknowledged, value):
        troubles.append("the last edits are lost")
    left_files = [*data.glob("renders/.render-*"), *data.glob("**/.part-*")]
    if left_files:
        troubles.append(f"files are left: {left_files}")
    server.terminate()
    return troubles
