"""The typefaces that a project can use: what they can do, and given words in their design."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query

from ...core.typography import FontLibrary
from ...core.typography.shipped import GROUPS, SHIPPED, Family
from ...core.typography.specimen import FaceFacts, facts_of, specimen
from ..services import Services, get_services

router = APIRouter(prefix="/api", tags=["typefaces"])
Served = Annotated[Services, Depends(get_services)]
OWN = "own"


@router.get("/projects/{project_id}/typefaces")
def typefaces(
    project_id: str,
    services: Served,
    words: Annotated[str | None, Query(max_length=4000)] = None,
    weight: Annotated[float, Query(ge=1, le=1000, allow_inf_nan=False)] = 600.0,
) -> dict[str, Any]:
    """All typefaces, the shipped ones and those of the project, with their groups: scripts, axes
    and OpenType features of each, and the first line of ``words`` in its design where they are
    asked for, as SVG path data with the box of its line (left, top, width, height). ``fault`` tells
    of one whose file cannot be read.
    """
    project = services.workspace.state(project_id).project
    library = services.fonts
    # As documents name them, and as the library does.
    listed = [(family, family.id) for family in SHIPPED]
    for asset in project.assets:
        if asset.kind == "font":
            own = Family(f"asset:{asset.id}", asset.family or asset.name, "Your own", OWN)
            listed.append((own, f"asset:{asset.hash}"))
    return {
        "groups": [{"id": i, "label": label} for i, label in (*GROUPS, (OWN, "Your own"))],
        "typefaces": [_told(library, each, known, words, weight) for each, known in listed],
    }


def _told(
    library: FontLibrary, family: Family, known: str, words: str | None, weight: float
) -> dict[str, Any]:
    library.try_again(known)
    facts = facts_of(library.typeface(known))
    told = {**family._asdict(), **_facts_json(facts), "fault": library.failed.get(known, "")}
    if words is not None:
        drawn = specimen(library, known, words, weight)
        left, top, right, bottom = drawn.box
        told |= {"path": drawn.path, "box": [left, top, right - left, bottom - top]}
    return told


def _facts_json(facts: FaceFacts) -> dict[str, Any]:
    return {
        "scripts": facts.scripts,
        "features": [
            {"tag": each.tag, "label": each.label, "by_itself": each.by_itself}
            for each in facts.features
        ],
        "axes": [asdict(axis) for axis in facts.axes],
    }
