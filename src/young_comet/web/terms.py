"""The words of the product, a sentence or two each, as the help page tells them."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Term:
    """A word with what it means; ``see`` is the panel it is met in, ``shown`` a move or an effect
    ("move:lift", "effect:glow") whose picture tells more than words."""

    id: str
    name: str
    text: str
    see: str = ""
    shown: str = ""


TERMS = (
    Term(
        "project", "Project",
        "Scenes, assets, inks and easings that belong together. Everything is saved as it "
        "happens; undo goes back through all of it, also after a restart.",
    ),
    Term(
        "scene", "Scene",
        "One piece: a frame of some size and rate, a length, and a stack of layers that move "
        "in it. A scene can be placed in another one as a layer.",
    ),
    Term(
        "layer", "Layer",
        "One item of the stack: a backdrop, shape, text, picture, clip, sound, placed scene, "
        "treatment or carrier. What is higher in the list lies in front.",
    ),
    Term(
        "backdrop", "Backdrop",
        "A layer that fills the frame with a colour, a gradient or a pattern.",
    ),
    Term(
        "treatment", "Treatment",
        "A layer without a picture of its own: its effects change everything below it, as a "
        "grade does.",
    ),
    Term(
        "carrier", "Carrier",
        "A layer that draws nothing. Others ride on it, so that they move together and by "
        "themselves.",
    ),
    Term(
        "span", "Span",
        "When a layer is on: from its start to its end. Drag its bar to move it in time, its "
        "ends to trim it.",
        "timing",
    ),
    Term(
        "place", "Place",
        "Where a layer is: position, rotation, scale, skew, and tilt and turn in perspective.",
        "selection",
    ),
    Term(
        "pivot", "Pivot",
        "The point that a layer turns and grows about. Alt+P moves it on the stage; the nine "
        "points in the panel set it.",
        "selection",
    ),
    Term(
        "ride", "Ride",
        "A layer that rides on another takes over its place: it goes, turns and grows along.",
        "selection",
    ),
    Term(
        "group", "Group",
        "A named fold of layers in the list, chosen and moved in time together. It draws "
        "nothing.",
    ),
    Term(
        "property", "Property",
        "Anything that can change over time: a number, a point, a colour, a path, a text. It "
        "has a value, or keys, and may have an expression on top.",
        "selection",
    ),
    Term(
        "key", "Key",
        "A value at a moment. A property that has keys gets one at the playhead when it is "
        "changed; the dot beside a field sets the first.",
        "timing",
    ),
    Term(
        "lane", "Lane",
        "The course of a property below its layer's bar: the curve through its keys. Pulled "
        "tall, the curve is shaped right there.",
        "timing",
    ),
    Term(
        "easing", "Easing",
        "How a value goes from one key to the next: evenly, gently, past its goal, in steps, "
        "as a spring.",
        "timing",
    ),
    Term(
        "hold", "Hold",
        "An easing that stays at a key's value until the next key.",
        "timing",
    ),
    Term(
        "phase", "Phase",
        "A layer arrives, dwells and leaves. How long it takes to arrive and leave are the "
        "slopes on its bar; they follow the moves until a length is given.",
        "moves",
    ),
    Term(
        "passage", "Passage",
        "How something comes, what it does while it is there and how it goes, chosen to go "
        "together: moves of all three phases at one press.",
        "moves", "move:slide",
    ),
    Term(
        "transition", "Transition",
        "How one layer gives way to the next where the one ends and the other begins, in place of "
        "leaving and arriving: chosen in the Moves tab, dragged longer by the ends of its arc. "
        "Matched, what both have goes from one to the other.",
        "moves",
    ),
    Term(
        "arrangement", "Arrangement",
        "A named state of the scene's layers: where they are, how they look, what they say, and "
        "whether they are there. Cards above the filmstrip lay them in time; what is done while "
        "one of them stands is done in it alone.",
        "timing",
    ),
    Term(
        "step", "Step",
        "How one arrangement becomes the next: how long it takes, its easing, whether layers begin "
        "one after another, straight or on an arc, and by which move comes what was not there.",
        "timing",
    ),
    Term(
        "move", "Move",
        "A ready-made way to arrive, dwell or leave, over the layer's own keys. It can be "
        "turned into keys at any time.",
        "moves", "move:lift",
    ),
    Term(
        "spread", "Spread",
        "A move that goes over letters, words, lines, slices or copies one after another: how long "
        "each of them takes, and how much later the next one sets out.",
        "moves", "move:drop",
    ),
    Term(
        "run", "Run",
        "A stretch of a text with letters and paint of its own. What it does not set is as in the "
        "whole text.",
        "selection",
    ),
    Term(
        "phrase", "Phrase",
        "A line of words with its time. Lines that are pasted, or a subtitle file, become a text "
        "each: + Layer, Phrases.",
    ),
    Term(
        "front", "Front",
        "A spread that a text wears: what it has reached is at rest, what it has not is displaced "
        "in place, weight, blur, colour and more. Its progress has keys.",
        "selection",
    ),
    Term(
        "slices", "Slices",
        "A layer cut into strips, tiles, wedges or along drawn lines, whose pieces move by "
        "themselves and meet exactly.",
        "selection", "move:alternate",
    ),
    Term(
        "copies", "Copies",
        "A layer drawn several times, each a step further in place, turn, size, time, opacity "
        "and colour.",
        "selection",
    ),
    Term(
        "linked-copy", "Linked copy",
        "A layer that shares content and keys with another one until it is told otherwise.",
    ),
    Term(
        "tie", "Tie",
        "A layer's start or end, or a mark, set relative to another moment: it goes along "
        "when that moves.",
        "timing",
    ),
    Term(
        "mark", "Mark",
        "A named moment of the scene, with a note if you like. Things snap and can be tied to "
        "it.",
        "timing",
    ),
    Term(
        "mask", "Mask",
        "A path on a layer that says where it is seen: added, taken away, crossed; softened, "
        "grown, moving, following another layer.",
        "looks",
    ),
    Term(
        "matte", "Matte",
        "A layer that is seen only through another one: where that is opaque, or light. The "
        "other one may be hidden.",
        "looks",
    ),
    Term(
        "effect", "Effect",
        "A step that changes a layer's picture. Effects are worked through from above down; "
        "all their values can have keys.",
        "looks", "effect:glow",
    ),
    Term(
        "blending", "Blend mode",
        "How a layer's colours mix with those below, as the W3C's compositing defines it.",
        "looks",
    ),
    Term(
        "motion-blur", "Motion blur",
        "What moves while the shutter is open is smeared along its way, as a camera sees it.",
        "looks",
    ),
    Term(
        "ink", "Ink",
        "A named colour of the project. What uses it changes with it.",
        "inks",
    ),
    Term(
        "type-style", "Type style",
        "How a text looks, under a name: letters, lines, paint. What wears it changes with it, "
        "but for what it has of its own.",
        "inks",
    ),
    Term(
        "slot", "Slot",
        "A property of a placed scene that whoever places it fills anew: a name, a colour, a "
        "picture.",
        "selection",
    ),
    Term(
        "expression", "Expression",
        "A small formula on a property, in Python's own syntax: keyed + sway(10), "
        "of(\"Kite\", \"position\").",
        "selection",
    ),
    Term(
        "gain", "Gain",
        "How loud a sound is, in decibels; drawn over its wave and dragged there.",
        "selection",
    ),
    Term(
        "duck", "Ducking",
        "A sound that becomes softer while another one is heard.",
        "selection",
    ),
    Term(
        "transparent", "Transparent ground",
        "A scene without a colour behind its layers; the checker on the stage stands for "
        "nothing there. Films with an alpha channel keep it.",
    ),
    Term(
        "safe-areas", "Safe areas",
        "The part of the frame that every screen shows: 90 and 80 percent of it.",
    ),
    Term(
        "render", "Render",
        "A scene turned into a file. Renders run beside your work; the list shows how far "
        "they are.",
    ),
)  # fmt: skip
