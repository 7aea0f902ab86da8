"""Steps of journeys with texts."""

from tests.e2e.steps import at


def title(desk):
    return desk.evaluate("youngComet.editor.layer('title')")


def text(desk):
    return title(desk)["properties"]["text"]["value"]


def runs(desk):
    return [(run["first"], run["last"]) for run in title(desk)["runs"]]


def letter(desk, index, side="middle"):
    """Where a letter is on the page, as the server told: its middle, or its left or right edge."""
    cell = desk.evaluate(
        "(index) => youngComet.editor.letters.lines.flatMap((l) => l.cells).find((c) => c[0] === index)",
        index,
    )
    corners = cell[3:]
    share = {"left": 0.04, "middle": 0.5, "right": 0.96}[side]
    x = (
        corners[0] * (1 - share)
        + corners[2] * share
        + corners[6] * (1 - share)
        + corners[4] * share
    ) / 2
    y = (
        corners[1] * (1 - share)
        + corners[3] * share
        + corners[7] * (1 - share)
        + corners[5] * share
    ) / 2
    return at(desk, x, y)


def write(desk):
    """Opens the text by a double click on it and waits for its letters."""
    corners = desk.evaluate("youngComet.editor.view.title.corners")
    x = sum(p[0] for p in corners) / 4
    y = sum(p[1] for p in corners) / 4
    desk.mouse.dblclick(*at(desk, x, y))
    desk.wait_for_function("() => youngComet.editor.letters?.lines.length > 0")
    desk.wait_for_function("() => !youngComet.editor.inFlight")
