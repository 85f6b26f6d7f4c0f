"""Movements of letters: how they come, how they leave, what they do meanwhile."""

from __future__ import annotations

from typing import Any

from ..document import Ease, Lettered, LetterSet, Shot, escaped
from .applying import LetterMove, Motion, Patch, When, drifting, following, letter_moves

LETTERED = ("title", "mark")
LAND = Ease(kind="cubic-bezier", x1=0.16, y1=0.84, x2=0.3, y2=1)
LEAVE = Ease(kind="cubic-bezier", x1=0.6, y1=0, x2=0.85, y2=0.3)
SOFT = Ease()
EVEN = Ease(kind="linear")
SWING = Ease(kind="spring", stiffness=120, damping=11)
BOUNCE = Ease(kind="bounce", count=2, rebound=0.18)
JUMP = Ease(kind="steps", count=1)


def _in(start: float, end: float = 0.0) -> tuple[tuple[float, float], ...]:
    return ((0.0, start), (1.0, end))


def _move(values: dict[str, Any], ease: Ease, **more: Any) -> LetterMove:
    return LetterMove(values=values, ease=ease, **more)


def _of(when: When, name: str, label: str, tells: str, frames: int, *moves: LetterMove) -> Motion:
    return Motion(name, label, tells, LETTERED, when, frames, letter_moves(*moves, when=when))


def _timing(order: str, **more: Any) -> dict[str, Any]:
    return {"order": order, **more}


_THERE = {"opacity": ((0.0, 0.0), (0.25, 1.0))}
_GONE = {"opacity": ((0.75, 1.0), (1.0, 0.0))}

ARRIVALS = (
    _of(
        "arrival",
        "past-the-camera",
        "Past the camera",
        "Letters come from behind the camera, turn and settle.",
        50,
        _move(
            {"move/z": _in(16), "turn/x": _in(-50), "turn/y": _in(25)}, LAND, timing=_timing("random", seed=3)
        ),
    ),
    _of(
        "arrival",
        "up-from-the-ground",
        "Up from the ground",
        "Letters rise from below, one after the other.",
        36,
        _move({"move/y": _in(-1.6), **_THERE}, LAND),
    ),
    _of(
        "arrival",
        "shutters",
        "Shutters",
        "Letters turn in on their left side, as shutters do.",
        36,
        _move({"turn/y": _in(-95), **_THERE}, LAND, chosen={"hinge": "left"}),
    ),
    _of(
        "arrival",
        "alternate-hinges",
        "Alternate hinges",
        "Every other letter swings on its left side, those between on their right.",
        44,
        _move(
            {"turn/y": _in(-115), **_THERE},
            SWING,
            chosen={"rule": "every", "step": 2, "first": 0, "hinge": "left"},
        ),
        _move(
            {"turn/y": _in(115), **_THERE},
            SWING,
            chosen={"rule": "every", "step": 2, "first": 1, "hinge": "right"},
        ),
    ),
    _of(
        "arrival",
        "gain-depth",
        "Gain depth",
        "Letters stand flat and gain their depth.",
        40,
        _move({"depth": _in(0.0, 1.0), "roughness": _in(0.4)}, SOFT, timing=_timing("from the middle")),
    ),
    _of(
        "arrival",
        "gather",
        "Gather",
        "Letters come together out of a cloud, turning.",
        56,
        _move(
            {
                **{f"scatter/{axis}": _in(far) for axis, far in zip("xyz", (5, 3, 6), strict=True)},
                "spin/x": _in(200),
                "spin/y": _in(160),
                **_THERE,
            },
            LAND,
            timing=_timing("random", seed=5),
            share=0.7,
        ),
    ),
    _of(
        "arrival",
        "dropped",
        "Dropped",
        "Letters fall onto their line and bounce.",
        44,
        _move({"move/y": _in(6.0)}, BOUNCE, timing=_timing("random", seed=2), share=0.55),
    ),
    _of(
        "arrival",
        "sprung",
        "Sprung",
        "Letters grow past their size and swing back.",
        34,
        _move({"scale": _in(0.0, 1.0)}, SWING, timing=_timing("from the middle"), share=0.6),
    ),
    _of(
        "arrival",
        "fade-up",
        "Fade up",
        "Letters come to be there, softly.",
        36,
        _move({"opacity": _in(0.0, 1.0)}, SOFT),
    ),
    _of(
        "arrival",
        "typed",
        "Typed",
        "Letters are there one by one, at once.",
        40,
        _move({"opacity": ((0.0, 0.0), (1.0, 1.0))}, JUMP, share=0.02),
    ),
    _of(
        "arrival",
        "lit-one-by-one",
        "Lit one by one",
        "Letters flare up one after the other, then calm down.",
        48,
        _move(
            {"glow": ((0.0, 0.0), (0.25, 7.0), (1.0, 0.0)), "opacity": ((0.0, 0.0), (0.2, 1.0))},
            SOFT,
            share=0.45,
        ),
    ),
    _of(
        "arrival",
        "tumble",
        "Tumble",
        "Letters turn over forward onto their line.",
        44,
        _move(
            {"turn/x": _in(-200), "move/z": _in(-2.5), **_THERE},
            LAND,
            chosen={"hinge": "baseline"},
            timing=_timing("from the ends"),
        ),
    ),
    _of(
        "arrival",
        "rolled",
        "Rolled",
        "Letters roll in along their line.",
        48,
        _move({"move/x": _in(-9), "turn/z": _in(420)}, LAND, timing=_timing("reverse"), share=0.6),
    ),
    _of(
        "arrival",
        "out-of-the-middle",
        "Out of the middle",
        "The words spread from their middle.",
        34,
        _move(
            {"scale": _in(0.0, 1.0), **_THERE},
            LAND,
            chosen={"hinge": "title"},
            timing=_timing("from the middle"),
            share=0.7,
        ),
    ),
    _of(
        "arrival",
        "braked",
        "Braked",
        "Letters dash in leaning and stand up.",
        34,
        _move(
            {"move/x": _in(-12), "shear": ((0.0, 38.0), (0.6, -16.0), (1.0, 0.0))},
            LAND,
            chosen={"hinge": "bottom"},
            timing=_timing("reverse"),
            eases={"shear": SOFT},
            share=0.6,
        ),
    ),
    _of(
        "arrival",
        "stood-up",
        "Stood up",
        "Letters lie on the floor and are stood up.",
        40,
        _move({"turn/x": _in(-90)}, SWING, chosen={"hinge": "bottom"}),
    ),
    _of(
        "arrival",
        "line-by-line",
        "Line by line",
        "Lines turn down into place like a board.",
        50,
        _move(
            {"turn/x": _in(100), **_THERE},
            LAND,
            chosen={"hinge": "line"},
            timing=_timing("reading", unit="lines"),
        ),
    ),
    _of(
        "arrival",
        "word-by-word",
        "Word by word",
        "Words step forward one after the other.",
        50,
        _move({"move/z": _in(-4), **_THERE}, LAND, timing=_timing("reading", unit="words")),
    ),
    _of(
        "arrival",
        "out-of-the-mist",
        "Out of the mist",
        "Dull, see-through letters clear up.",
        50,
        _move({"roughness": _in(0.7), "opacity": _in(0.0, 1.0), "move/z": _in(-1.2)}, SOFT, share=0.7),
    ),
    _of(
        "arrival",
        "wide-to-close",
        "Wide to close",
        "Letters draw in from far apart.",
        44,
        _move(
            {"stretch": _in(2.4, 1.0), **_THERE},
            LAND,
            chosen={"hinge": "title"},
            timing=_timing("together"),
            share=1.0,
        ),
    ),
)

DEPARTURES = (
    _of(
        "departure",
        "into-the-camera",
        "Into the camera",
        "Letters fly forward past the camera.",
        40,
        _move(
            {"move/z": ((0.0, 0.0), (1.0, 18.0)), "turn/y": ((0.0, 0.0), (1.0, 40.0))},
            LEAVE,
            timing=_timing("random", seed=4),
        ),
    ),
    _of(
        "departure",
        "sink",
        "Sink",
        "Letters go down and are gone.",
        34,
        _move({"move/y": ((0.0, 0.0), (1.0, -1.6)), **_GONE}, LEAVE),
    ),
    _of(
        "departure",
        "close-shutters",
        "Close the shutters",
        "Letters turn out on their right side.",
        34,
        _move({"turn/y": ((0.0, 0.0), (1.0, 95.0)), **_GONE}, LEAVE, chosen={"hinge": "right"}),
    ),
    _of(
        "departure",
        "blown-away",
        "Blown away",
        "Letters scatter as if a gust took them.",
        46,
        _move(
            {
                "move/x": ((0.0, 0.0), (1.0, 5.0)),
                **{f"scatter/{axis}": ((0.0, 0.0), (1.0, 3.5)) for axis in "xyz"},
                "spin/y": ((0.0, 0.0), (1.0, 260.0)),
                "spin/z": ((0.0, 0.0), (1.0, 120.0)),
                **_GONE,
            },
            LEAVE,
            timing=_timing("along a direction", direction=180),
            share=0.6,
        ),
    ),
    _of(
        "departure",
        "fade-down",
        "Fade down",
        "Letters cease to be there, softly.",
        30,
        _move({"opacity": ((0.0, 1.0), (1.0, 0.0))}, SOFT),
    ),
    _of(
        "departure",
        "laid-down",
        "Laid down",
        "Letters tip back onto the floor.",
        36,
        _move({"turn/x": ((0.0, 0.0), (1.0, -90.0)), **_GONE}, LEAVE, chosen={"hinge": "bottom"}),
    ),
    _of(
        "departure",
        "lose-depth",
        "Lose depth",
        "Letters go flat, then out.",
        36,
        _move({"depth": ((0.0, 1.0), (0.8, 0.0)), **_GONE}, SOFT, timing=_timing("from the ends")),
    ),
    _of(
        "departure",
        "fall-away",
        "Fall away",
        "Letters drop out of their line, turning.",
        40,
        _move(
            {"move/y": ((0.0, 0.0), (1.0, -8.0)), "spin/z": ((0.0, 0.0), (1.0, 90.0))},
            LEAVE,
            timing=_timing("random", seed=8),
        ),
    ),
)


def _wave(shot: Shot, name: str, start: int, length: int) -> Patch:
    """Letters go up and down, each a little later than the one before."""
    return _with_set(
        shot,
        name,
        {"timing": {"order": "reading", "delay": 3.0}, "hinge": "middle"},
        lambda at, size: [following(f"{at}/move/y", formula=f"{0.16 * size:.4g} * sin(150 * t)")],
    )


def _swaying(shot: Shot, name: str, start: int, length: int) -> Patch:
    return _with_set(
        shot,
        name,
        {"timing": {"order": "random", "seed": 6, "delay": 17.0}, "hinge": "top"},
        lambda at, size: [
            drifting(f"{at}/turn/z", amplitude=7, frequency=0.35),
            drifting(f"{at}/turn/x", amplitude=9, frequency=0.3),
        ],
    )


def _flickering(shot: Shot, name: str, start: int, length: int) -> Patch:
    return _with_set(
        shot,
        name,
        {"glow": 1.6, "timing": {"order": "random", "seed": 9, "delay": 37.0}},
        lambda at, size: [drifting(f"{at}/glow", amplitude=1.6, frequency=3.2, detail=3)],
    )


def _afloat(shot: Shot, name: str, start: int, length: int) -> Patch:
    return _with_set(
        shot,
        name,
        {"timing": {"order": "random", "seed": 4, "delay": 23.0}, "hinge": "middle"},
        lambda at, size: [
            *(drifting(f"{at}/move/{axis}", amplitude=0.09 * size, frequency=0.4) for axis in "xyz"),
            *(drifting(f"{at}/turn/{axis}", amplitude=5, frequency=0.3) for axis in "xyz"),
        ],
    )


def _with_set(shot: Shot, name: str, how: dict[str, Any], moves: Any) -> Patch:
    thing = shot.things[name]
    assert isinstance(thing, Lettered)
    size = thing.extent
    made = LetterSet.model_validate({"step": 1, **how}).model_dump(mode="json")
    added = {"op": "add", "path": f"/things/{escaped(name)}/sets/-", "value": made}
    return [added, *moves(f"/things/{name}/sets/{len(thing.sets)}", size)]


HOLDS = (
    Motion("wave", "Wave", "A wave runs through the letters.", LETTERED, "hold", 75, _wave),
    Motion("swaying", "Swaying", "Letters hang from their tops and sway.", LETTERED, "hold", 75, _swaying),
    Motion("afloat", "Afloat", "Each letter floats by itself.", LETTERED, "hold", 75, _afloat),
    Motion(
        "flickering",
        "Flickering",
        "Letters glow unsteadily, each in its own way.",
        LETTERED,
        "hold",
        75,
        _flickering,
    ),
)

LETTERS = (*ARRIVALS, *DEPARTURES, *HOLDS)
