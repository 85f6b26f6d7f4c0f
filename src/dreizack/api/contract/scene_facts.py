"""The header of a scene's block: what its arrays are about."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel


class FormFacts(BaseModel):
    """The bodies of one form: names, the piece each stands where and how far before it (metres), the
    character it stands for, the finish it wears. ``start`` counts the bodies of the forms before."""

    start: int
    bodies: list[str]
    pieces: list[int]
    shifts: list[float]
    sources: list[int]
    finishes: list[int]


class PictureFacts(BaseModel):
    """A picture on a surface: ``key`` names what is shown, ``running`` says whether walls go by their running
    length, ``letters`` how many places a step has, ``plays`` whether it changes, ``plate`` whether it fills
    the frame instead of lying on letters."""

    key: str
    channel: Literal["base colour", "emission", "roughness", "opacity"]
    repeat: Literal["repeat", "mirrored", "once"]
    running: bool
    letters: int
    plays: bool
    plate: bool


class FanFacts(BaseModel):
    """When each letter of a set does it: frames at which it begins and is done, in the order they are read;
    ``steps`` lie between the first and the last to begin."""

    set: int
    starts: list[float]
    ends: list[float]
    steps: int


class BodyFacts(BaseModel):
    """A thing with a body. ``worn``: by finish, which surface face, bevel, wall and back wear; ``bumps``: by
    surface, kind of its bump and how many metres its picture spans; ``em``: metres an em of the first letter;
    ``limited``: sources of letters whose edges stop short; ``own_looks``: letters look otherwise than their
    finish says; ``fill`` names what is on a sheet, where that is more than a colour; ``reveals``: only a part
    of it may be there; ``fades``: so many metres from its place a floor has gone over into
    what is behind it."""

    forms: list[FormFacts]
    limited: list[int]
    missing: str
    borrowed: str
    em: float
    worn: list[list[int]]
    bumps: list[tuple[str, float]]
    pictures: list[PictureFacts | None]
    seen: bool
    casts: bool
    receives: bool
    catches: bool = False
    blend: Literal["normal", "add", "screen", "multiply"] = "normal"
    fill: str = ""
    own_looks: bool = False
    reveals: bool = False
    fades: float = 0.0
    fans: list[FanFacts] = []


class LampFacts(BaseModel):
    """What a light reaches (null: everything), and the power of distance by which it weakens less than it
    would."""

    reaches: list[str] | None
    falloff: float


class AreaThing(BaseModel):
    """An effect that is kept to where a thing is seen, or away from it."""

    effect: str
    thing: str
    but_for: bool


class SceneFacts(BaseModel):
    """A shot of a revision over ``count`` of its ``frames`` from ``first`` on; arrays that stay as they are
    have one row; keyed values begin at frame ``channels_first``; at ``run_end`` a choice, a switch or a text
    changes, or the shot ends.

    ``around``: queries of the surroundings a frame may have, ``around_behind`` the same as seen behind;
    ``lost``: files the shot names that are not in the library; ``ends``: of bodies that come along, the ends
    of their parts; ``covered``: there are covers before the words; ``tones`` changes with curves and table
    of the grade, empty where they do nothing; ``ripples``: waves of the shadows on the plate (how often along
    x and z, where they begin, how far they lead along x and z);
    ``displaced_by``: the picture that moves what is seen; ``graded``: what the grade reaches;
    ``live_gaps``: what a view that does not trace leaves out; ``at_rest``: places on the opening of the lens,
    of radius 1, and frames from the present one, of pictures whose mean has the blur of focus and motion.
    """

    revision: int
    frames: int
    first: int
    count: int
    run_end: int
    titles: dict[str, BodyFacts]
    lights: dict[str, Literal["panel", "disc", "spot", "point", "sun", "ambient"]]
    lamps: dict[str, LampFacts]
    channels: list[str]
    channels_first: int
    around: list[str]
    around_behind: list[str]
    behind: Literal["colour", "gradient", "surroundings", "picture", "video", "plate"]
    behind_key: str
    covered: bool
    tones: str
    ripples: list[list[float]]
    area_things: list[AreaThing]
    displaced_by: str
    graded: Literal["everything", "titles", "what is behind"]
    live_gaps: list[str]
    at_rest: list[tuple[float, float, float]]
    view: str
    lost: list[str]
    ends: dict[str, list[int]]
