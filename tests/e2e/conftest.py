"""A real server and headless Chromium."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import expect

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


# How long a journey waits for what must come. Long, as a machine may be as busy as it likes: only what
# never comes is a failure.
PATIENCE_MS = 60_000
expect.set_options(timeout=PATIENCE_MS)


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {
        **browser_type_launch_args,
        "executable_path": shutil.which("chromium") or "/usr/bin/chromium",
        "args": FLAGS,
    }


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@pytest.fixture(scope="session")
def window(browser, browser_context_args):
    """One window for all tests: opening one costs two seconds of a processor."""
    context = browser.new_context(**browser_context_args)
    context.set_default_timeout(PATIENCE_MS)
    context.new_page()  # it stays open for as long as there is a page
    yield context
    context.close()


@pytest.fixture
def context(window):
    """The window with nothing in it of the tests before."""
    kept = set(window.pages)
    yield window
    for page in [page for page in window.pages if page not in kept]:
        if page.url.startswith("http://127.0.0.1"):
            page.evaluate("() => { localStorage.clear(); sessionStorage.clear(); }")
        page.close()


# Chromium's own notes on refused requests and on a server that is being restarted.
EXPECTED = ("Failed to load resource", "WebSocket connection to")


# Journeys begin at the first frame, as if one had left the scene there; new pages of their own open
# where a scene shows itself best.
AT_THE_START = """(() => {
  const [, project, scene] = location.pathname.match(/projects\\/([^/]+)\\/scenes\\/([^/]+)/) || [];
  const name = `desk:${project}:${scene}`;
  if (scene && !sessionStorage.getItem(name)) sessionStorage.setItem(name, '{"frame": 0}');
})()"""


# How many questions to the server are not answered yet, for who waits until the page has settled.
COUNTED = """(() => {
  window.asked = 0;
  const counted = (made) => {
    window.asked += 1;
    return made.finally(() => setTimeout(() => (window.asked -= 1)));
  };
  const ask = window.fetch;
  window.fetch = (...all) => counted(ask.apply(window, all));
  for (const name of ["json", "arrayBuffer", "blob", "text"]) {
    const read = Response.prototype[name];
    Response.prototype[name] = function () { return counted(read.call(this)); };
  }
})()"""


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


class Server:
    """The application as a person starts it; can be stopped and started again."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self.port = free_port()
        self.process: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        command = [sys.executable, "-m", "young_comet.cli", "serve", "--demo"]
        env = {"YOUNG_COMET_PREVIEW_PROCESSES": "0", **os.environ}
        command += ["--data", str(self.data), "--port", str(self.port)]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL, env=env)
        for _ in range(1800):
            try:
                urllib.request.urlopen(self.url, timeout=1)
                return
            except OSError:
                time.sleep(0.1)
        raise AssertionError("the server did not answer")

    def stop(self) -> None:
        if self.process is not None:
            self.process.terminate()
            self.process.wait(timeout=30)


@pytest.fixture(scope="session")
def server(tmp_path_factory) -> Iterator[Server]:
    running = Server(tmp_path_factory.mktemp("e2e") / "data")
    running.start()
    yield running
    running.stop()


@pytest.fixture
def page(page):
    """A page on which any error of a script fails the test."""
    problems: list[str] = []
    page.on("pageerror", lambda error: problems.append(str(error)))
    page.on(
        "console",
        lambda message: (
            problems.append(message.text)
            if message.type == "error" and not message.text.startswith(EXPECTED)
            else None
        ),
    )
    page.add_init_script(AT_THE_START)
    page.add_init_script(COUNTED)
    yield page
    assert problems == []
