"""The list of operations, and how one is read from JSON."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from ..core.model import Project
from ..core.model.schema import from_validation
from ..core.registry import Registry
from ..errors import DocumentError
from .arrange_edits import AlignLayers, DistributeLayers, KeepAligned, MovePivot
from .arrangement_edits import (
    AddArrangement,
    ChangeArrangement,
    OrderArrangement,
    RemoveArrangements,
    RetimeArrangement,
)
from .base import Edit, EditContext
from .beat_edits import BeatsToMarks, CountBeats, MoveBeat, SetBeats, TapBeats
from .curve_edits import DragHandle, JoinKeys, JoinProperty, SetPace, SplitProperty
from .easing_edits import AddEasing, ChangeEasing, RemoveEasing
from .effect_edits import ApplyEffects, ChangeEffectSet, SaveEffects, UseSetting
from .expression_edits import BakeExpressions, LinkProperties, SetExpression
from .front_edits import WearFront
from .hand_edits import (
    BendWay,
    DrawMask,
    DrawShape,
    HoldLayer,
    MoveGradient,
    MoveMask,
    MovePlace,
    MoveStop,
    MoveWay,
    MoveWayKeys,
    ScaleMask,
    TurnMask,
)
from .in_arrangement import WorkInArrangement
from .key_copies import CopyKeys, PasteKeys, RepeatKeys
from .key_edits import (
    ChangeKeys,
    ChangeKeyValues,
    DistributeKeys,
    EaseKeys,
    MirrorKeys,
    ReverseKeys,
    StretchKeys,
)
from .layer_edits import (
    AddLayers,
    ChangeLayers,
    DuplicateLayers,
    GroupLayers,
    OrderLayers,
    RemoveLayers,
    RenameGroup,
    ShareAgain,
    Ungroup,
)
from .mark_edits import AddMark, ChangeMark, RemoveMarks, SetRange
from .mask_edits import CopyMasks, TakeMask, TieMask
from .matte_edits import SetMatte
from .member_edits import AddMembers, ChangeMember, CopyMembers, RemoveMembers
from .move_edits import CopyMoves, MovesToKeys, WearMove
from .nesting_edits import UnwrapScene, WrapLayers
from .note_edits import NotesToMarks
from .opened_moves import OpenMove
from .outline_edits import DrawPath, TakeShape
from .part_pastes import PasteParts
from .passage_edits import WearPassage
from .paste_edits import PasteLayers
from .path_edits import BendPath, FlyPath, MovePath, RefitPath, RoundPath, TakeKeys, TakePath
from .phrase_edits import AddPhrases
from .preset_edits import RemovePreset, SavePreset
from .project_edits import (
    AddAsset,
    AddInks,
    ChangeInk,
    ChangeSettings,
    RemoveAsset,
    RemoveInk,
    RenameAsset,
    RenameProject,
    ReplaceAsset,
    SetTags,
)
from .ride_edits import CarryTogether, Ride
from .saved_move_edits import AddSavedMove, ChangeSavedMove, SaveMove
from .scene_edits import AddScene, ChangeFrame, ChangeScene, DuplicateScene, OrderScene, RemoveScene
from .sequence_edits import PlaceScenes
from .shape_edits import EditPath, JoinShapes, OutlineLayers, Recolour, SliceLayer
from .slot_edits import AddSlot, AnimateSlot, FillSlot, RemoveSlot
from .sound_edits import PlaceSound, SeparateSound
from .stagger_edits import Stagger
from .standing_edits import AddToArrangements, ArrangementsToKeys, SameInAll, StandLayers
from .swap_edits import CrossKeys, SwapLines
from .text_edits import EditText, StyleStretch, WriteText
from .tie_edits import CutTies, SetPhases, TieInRow, TieTimes
from .time_edits import (
    ExtendLayers,
    FitSpeed,
    FreezeLayers,
    HandOver,
    SetSpans,
    SlipLayers,
    SplitLayers,
    TimeCurve,
)
from .transform_edits import DragBox, MoveLayers, ScaleLayers, TurnLayers
from .transition_edits import JoinLayers, PairLayers
from .type_style_edits import ChangeTypeStyle, RemoveTypeStyle, SaveTypeStyle, WearTypeStyle
from .value_edits import (
    ClearKeys,
    MoveKeys,
    RemoveKeys,
    ResetProperties,
    SetKeys,
    SetValues,
)

_SINGLE: tuple[type[Edit], ...] = (
    RenameProject, SetTags, ChangeSettings, AddInks, ChangeInk, RemoveInk, AddAsset, RenameAsset,
    RemoveAsset, ReplaceAsset, AddScene, DuplicateScene, OrderScene, RemoveScene, ChangeScene,
    ChangeFrame,
    AddLayers, PlaceScenes, PasteLayers, PasteParts,
    RemoveLayers, DuplicateLayers, OrderLayers, ChangeLayers, GroupLayers, Ungroup, RenameGroup,
    SetMatte, HandOver, SetSpans, SetValues, ResetProperties, SetKeys, RemoveKeys, ClearKeys,
    MoveKeys, EaseKeys,
    MoveLayers, ScaleLayers, TurnLayers, DragBox,
    AlignLayers, DistributeLayers, MovePivot, CopyKeys, PasteKeys, StretchKeys, ReverseKeys,
    MirrorKeys, DistributeKeys, ChangeKeyValues, ChangeKeys, RepeatKeys, DragHandle, JoinKeys,
    SplitProperty, JoinProperty, SetPace, BendPath, RoundPath, TakeKeys, FlyPath, RefitPath,
    TakePath, MovePath, Stagger, ExtendLayers, SlipLayers, SplitLayers, FitSpeed, FreezeLayers,
    TimeCurve, AddMark, ChangeMark, RemoveMarks, SetRange, NotesToMarks, AddEasing, ChangeEasing,
    RemoveEasing,
    AddMembers, RemoveMembers, ChangeMember, CopyMembers, TieMask, CopyMasks, TakeMask, SaveEffects,
    UseSetting,
    ApplyEffects, ChangeEffectSet, EditPath, TakeShape,
    DrawPath, DrawShape, DrawMask, MoveMask, TurnMask, ScaleMask, MoveGradient, MoveStop, MovePlace,
    BendWay, MoveWay, MoveWayKeys, HoldLayer, PlaceSound, SeparateSound, SetBeats, TapBeats,
    MoveBeat, CountBeats, BeatsToMarks,
    JoinShapes, OutlineLayers, SliceLayer, Recolour, Ride, CarryTogether, KeepAligned, ShareAgain,
    SetExpression, LinkProperties, BakeExpressions, TieTimes, CutTies, TieInRow, SetPhases,
    WrapLayers, UnwrapScene, AddSlot, AnimateSlot, RemoveSlot, FillSlot, WearMove,
    SavePreset, RemovePreset, CopyMoves, MovesToKeys, SaveMove, AddSavedMove, ChangeSavedMove,
    SaveTypeStyle, WearTypeStyle, ChangeTypeStyle, RemoveTypeStyle,
    WearFront,
    OpenMove,
    WearPassage,
    JoinLayers,
    PairLayers,
    AddArrangement, ChangeArrangement, RetimeArrangement, OrderArrangement, RemoveArrangements,
    StandLayers, SameInAll, ArrangementsToKeys, AddToArrangements,
    AddPhrases, SwapLines, CrossKeys,
    EditText,
    StyleStretch,
    WriteText,
)  # fmt: skip


class Together(Edit):
    """Several operations as one step of the history."""

    kind: Literal["together"] = "together"
    title: Annotated[str, Field(min_length=1, max_length=200)]
    edits: Annotated[list[dict[str, Any]], Field(min_length=1, max_length=500)]

    def apply(self, project: Project, context: EditContext) -> Project:
        for edit in self._parsed():
            project = edit.apply(project, context)
        return project

    def label(self, project: Project) -> str:
        return self.title

    def touches(self) -> list[str]:
        return [path for edit in self._parsed() for path in edit.touches()]

    def single(self) -> list[Edit]:
        return [each for edit in self._parsed() for each in edit.single()]

    def _parsed(self) -> list[Edit]:
        return [parse_edit(edit) for edit in self.edits]


class InArrangement(WorkInArrangement):
    """As ``WorkInArrangement`` says, its operations read from their JSON."""

    def parsed(self) -> list[Edit]:
        return [each for edit in self.edits for each in parse_edit(edit).single()]


_ALL: tuple[type[Edit], ...] = (*_SINGLE, Together, InArrangement)
EDIT_KINDS: Registry[type[Edit]] = Registry(
    "edit kind", _ALL, key=lambda edit: str(edit.model_fields["kind"].default)
)
_ADAPTERS = {kind: TypeAdapter(edit) for kind, edit in EDIT_KINDS.items()}


def parse_edit(data: Any) -> Edit:
    """An operation from its JSON; DocumentError names the field that is wrong."""
    if not isinstance(data, dict):
        raise DocumentError.expected("edit", "an object with a kind", data)
    kind = data.get("kind")
    if not isinstance(kind, str) or kind not in _ADAPTERS:
        raise DocumentError.expected("edit kind", "one of " + ", ".join(EDIT_KINDS), kind)
    try:
        return _ADAPTERS[kind].validate_python(data)
    except ValidationError as error:
        raise from_validation(error) from error


def parse_edits(data: Any) -> list[Edit]:
    """Operations from their JSON form, or DocumentError."""
    if not isinstance(data, list):
        raise DocumentError.expected("edits", "a list of edits", data)
    return [parse_edit(item) for item in data]
