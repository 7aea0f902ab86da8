"""Functions of the page's own modules, called with the node that Playwright brings along."""

import json
import subprocess
from pathlib import Path

from playwright._impl._driver import compute_driver_executable

import young_comet

JS = Path(young_comet.__file__).parent / "web" / "static" / "js"
RUN = Path(__file__).parent / "run.mjs"


def call_all(*calls, made=None):
    """The outcomes of several calls (module, name, arguments), one after another: ``{"value",
    "args"}`` or ``{"error"}``. ``made`` is the class (module, name, arguments) of the object whose
    methods are called."""
    asked = [
        {"module": str(JS / module), "name": name, "args": args} for module, name, args in calls
    ]
    if made is not None:
        module, name, args = made
        made = {"module": str(JS / module), "name": name, "args": args}
    node = compute_driver_executable()
    node = node[0] if isinstance(node, tuple) else node
    done = subprocess.run(
        [str(node), str(RUN)], input=json.dumps({"made": made, "calls": asked}),
        capture_output=True, text=True, timeout=60,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr[-2000:]
    return json.loads(done.stdout)


def call(module, name, *args, made=None):
    """What one call gives."""
    (found,) = call_all((module, name, args), made=made)
    assert "error" not in found, found
    return found["value"]
