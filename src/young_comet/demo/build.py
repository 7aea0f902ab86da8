"""Puts the demo project into a data folder, by the same edits that a person makes."""

from __future__ import annotations

from ..core.model import Ink, Project
from ..edits import parse_edit
from ..edits.base import new_id
from ..edits.easing_edits import AddEasing
from ..edits.project_edits import AddAsset, AddInks
from ..errors import NotFoundError
from ..store import DataFolder
from . import drawings, parts
from .badge import badge_halves
from .clouds_clip import passing_clouds
from .evening import evening_programme
from .kinetic_title import kinetic_title
from .logo_reveal import logo_reveal
from .lower_third import lower_third, name_tag
from .opener import opener
from .race_day import race_day
from .sounds import kit_assets, sounds
from .week import week_in_short
from .workshop import kite_workshop

DEMO_ID = "kite-week"
NAME = "Gullwing Bay Kite Week"

INKS = (
    ("ember", "Ember", "#ff7a45"),
    ("amber", "Amber", "#ffb44a"),
    ("lagoon", "Lagoon", "#2f9fb3"),
    ("deep-water", "Deep water", "#19677d"),
    ("sailcloth", "Sailcloth", "#f8f1e4"),
    ("dusk", "Dusk", "#17224d"),
)

# The house easings: a quick start that settles long, a kite's flight, a leave.
EASINGS = (
    ("settle", "Settle", parts.SETTLE),
    ("flight", "Flight", parts.FLIGHT),
    ("leave", "Leave", parts.LEAVE),
)

PICTURES = (
    ("kite-emblem", "Kite emblem.svg", drawings.emblem()),
    ("bow-amber", "Amber bow.svg", drawings.bow(drawings.AMBER, drawings.EMBER)),
    ("bow-teal", "Teal bow.svg", drawings.bow(drawings.TEAL, drawings.AMBER)),
    ("cloud-far", "Far clouds.svg", drawings.cloud_bank(5, 1500, 300, ("#d98aa0", "#8a4c79"))),
    ("cloud-near", "Near clouds.svg", drawings.cloud_bank(11, 2100, 420, ("#f6b08c", "#a3566f"))),
)


TOUR_NAME = "Tour: a name tag"
TOUR_SCENE = "name-tag"


def make_tour(folder: DataFolder) -> str:
    """A new project with a copy of the demo's name tag, for the tour; its id."""
    state = folder.workspace.create(Project(id=new_id(), name=TOUR_NAME))
    _furnish(folder, state.project.id)
    for edit in name_tag():
        folder.workspace.edit(state.project.id, parse_edit(edit))
    return state.project.id


def _furnish(folder: DataFolder, project_id: str) -> None:
    """Inks, pictures and easings that the scenes use."""
    workspace = folder.workspace
    inks = [Ink(id=id_, name=name, colour=colour) for id_, name, colour in INKS]
    workspace.edit(project_id, AddInks(inks=inks))
    for asset_id, name, svg in PICTURES:
        asset = folder.assets.ingest(name, svg.encode(), asset_id)
        workspace.edit(project_id, AddAsset(asset=asset))
    for easing_id, name, easing in EASINGS:
        workspace.edit(project_id, AddEasing(id=easing_id, name=name, easing=easing))


def ensure_demo(folder: DataFolder) -> None:
    """Adds the demo project unless it is there; a changed one is left alone."""
    workspace = folder.workspace
    try:
        workspace.state(DEMO_ID)
        return
    except NotFoundError:
        pass
    try:
        workspace.restore(DEMO_ID)  # it was deleted: what a person did to it comes back
        return
    except NotFoundError:
        workspace.create(Project(id=DEMO_ID, name=NAME))
    _furnish(folder, DEMO_ID)
    clouds = folder.assets.ingest("Passing clouds.webm", passing_clouds(), "passing-clouds")
    workspace.edit(DEMO_ID, AddAsset(asset=clouds))
    for asset in kit_assets(folder.assets):
        workspace.edit(DEMO_ID, AddAsset(asset=asset))
    scenes = (*logo_reveal(), *lower_third(), *kinetic_title(), *sounds())
    others = (*evening_programme(), *race_day(), *kite_workshop())
    for edit in (*scenes, *opener(), *name_tag(), *others, *badge_halves(), *week_in_short()):
        workspace.edit(DEMO_ID, parse_edit(edit))
