"""Things repeated in steps become things of their own, for whoever evaluates a shot."""

from __future__ import annotations

import math
import random
from typing import TYPE_CHECKING, Any

from .copies import Copies
from .finish import Finish
from .keys import Channel
from .pivot import Pivot
from .place import Place
from .strand import Strand

if TYPE_CHECKING:
    from .shot import Shot

Matrix = list[list[float]]

# Between the name of a thing and the number of its copy; names people give have no two dashes and a number
# at their end.
MARK = "--"


def original_of(name: str) -> str:
    """The thing that something is a copy of; itself where it is none.

    >>> original_of("title--3"), original_of("title")
    ('title', 'title')
    """
    stem, mark, number = name.rpartition(MARK)
    return stem if mark and number.lstrip("p").isdigit() else name


def with_copies(shot: Shot) -> Shot:
    """The shot with every copy as a thing that hangs on a pivot of its own, later keys and all; the shot
    itself where nothing is repeated."""
    repeated = {
        name: copies
        for name, thing in shot.things.items()
        if (copies := getattr(thing, "copies", None)) is not None and copies.count
    }
    if not repeated:
        return shot
    made = shot.model_copy(deep=True)
    for name, copies in repeated.items():
        _repeat(made, name, copies)
    return made


def _repeat(shot: Shot, name: str, copies: Copies) -> None:
    original: Any = shot.things[name]
    original.copies = Copies()
    rng = random.Random(copies.seed)
    at = f"/things/{name}/"
    if _ridden(shot, copies, 0):
        first = f"{name}{MARK}p0"
        shot.things[first] = Pivot(name=original.name, **_ridden(shot, copies, 0))
        original.place.hangs_on = first
    for k in range(1, copies.count + 1):
        copy, own, pivot = original.model_copy(deep=True), f"{name}{MARK}{k}", f"{name}{MARK}p{k}"
        where = [original.place.position.x, original.place.position.y, original.place.position.z]
        placed = _placed(copies, k, where, rng)
        placed.hangs_on = original.place.hangs_on
        shot.things[pivot] = Pivot(
            name=f"{original.name[:100]} {k}", place=placed, **_ridden(shot, copies, k)
        )
        copy.place.hangs_on = pivot
        copy.visibility.casts = copy.visibility.casts and copies.cast
        for finish in _finishes(copy):
            finish.opacity = finish.opacity * copies.fade**k
            for tinted in (finish.base_colour, finish.emission_colour):
                for channel in "rgb":
                    tinted.__dict__[channel] = getattr(tinted, channel) * getattr(copies.tint, channel) ** k
        shot.things[own] = copy
        # Spans that are not those of the whole shot go along in time.
        span = getattr(copy, "span", None)
        if span is not None and not span.whole:
            shift = round(copies.delay * k)
            span.__dict__.update(start=max(0, span.start + shift), end=max(1, span.end + shift))
        to = f"/things/{own}/"
        for moves in (shot.channels, shot.drifts, shot.couplings, shot.changes):
            for pointer in [one for one in moves if one.startswith(at)]:
                value: Any = moves[pointer].model_copy(deep=True)
                moves[to + pointer[len(at) :]] = _later(value, copies.delay * k, at, to)


def _ridden(shot: Shot, copies: Copies, k: int) -> dict[str, Any]:
    """What makes the k-th stand on a strand or a surface, where they are laid out so: on a strand the last at
    its end, or before the first again where it closes."""
    if copies.along == "surface":
        there = copies.over in shot.things
        spot = 1000 * (copies.seed % 1000) + k
        return {"rides": copies.over, "spot": spot, "turned": copies.turned} if there else {}
    strand = shot.things.get(copies.strand)
    if copies.along != "strand" or not isinstance(strand, Strand):
        return {}
    steps = copies.count + (1 if strand.closed else 0)
    return {"rides": copies.strand, "share": k / steps, "turned": copies.turned}


def _later(value: Any, delay: float, at: str, to: str) -> Any:
    """Keys, changes and what is followed so many frames later."""
    if isinstance(value, Channel):
        for key in value.keys:
            key.__dict__["frame"] = key.frame + delay
    elif hasattr(value, "keys"):
        for key in value.keys:
            key.__dict__["frame"] = max(0, round(key.frame + delay))
    elif hasattr(value, "source"):
        value.__dict__["delay"] = value.delay + delay
        if value.source.startswith(at):
            value.__dict__["source"] = to + value.source[len(at) :]
    return value


def _finishes(thing: Any) -> list[Finish]:
    """Finishes of a thing that say how much of it is there."""
    found = [thing.finish] if hasattr(thing, "finish") else list(getattr(thing, "finishes", []))
    found += [part.finish for name in ("shells", "ranges", "sets") for part in getattr(thing, name, [])]
    return [one for finish in found for one in (finish, *finish.parts.values())]


def _placed(copies: Copies, k: int, where: list[float], rng: random.Random) -> Place:
    """The place of the pivot that brings a thing which stands at ``where`` to its k-th step: what is turned
    and scaled is turned and scaled about the thing's own place."""
    scale = copies.scale**k
    off = [rng.uniform(-1, 1) * copies.scatter for _ in range(3)]
    turn = [k * copies.pitch, k * copies.yaw, k * copies.roll]
    turn = [degrees + rng.uniform(-1, 1) * copies.tumble for degrees in turn]
    matrix = _turned(turn)
    if copies.along in ("strand", "surface"):
        # Where it stands beside the line is counted from there already.
        where = [0.0, 0.0, 0.0]
    steps = (copies.x, copies.y, copies.z) if copies.along == "steps" else (0, 0, 0)
    to = [where[i] + off[i] + k * steps[i] for i in range(3)]
    if copies.along == "circle":
        angle = 360 * k / (copies.count + 1)
        round_ = _turned([0, angle, 0] if copies.around == "upright" else [0, 0, angle])
        centre = [0, 0, -copies.radius] if copies.around == "upright" else [0, -copies.radius, 0]
        carried = _applied(round_, [-c for c in centre])
        to = [where[i] + off[i] + centre[i] + carried[i] for i in range(3)]
        matrix = _product(round_, matrix)
    back = _applied(matrix, where)
    made = Place()
    position, rotation = made.position, made.rotation
    for i, axis in enumerate("xyz"):
        position.__dict__[axis] = to[i] - scale * back[i]
        rotation.__dict__[axis] = _angles(matrix)[i]
    made.__dict__["scale"] = scale
    return made


def _turned(degrees: list[float]) -> Matrix:
    """Rotation about x, then y, then z."""
    (a, b, c) = (math.radians(d) for d in degrees)
    x: Matrix = [[1, 0, 0], [0, math.cos(a), -math.sin(a)], [0, math.sin(a), math.cos(a)]]
    y: Matrix = [[math.cos(b), 0, math.sin(b)], [0, 1, 0], [-math.sin(b), 0, math.cos(b)]]
    z: Matrix = [[math.cos(c), -math.sin(c), 0], [math.sin(c), math.cos(c), 0], [0, 0, 1]]
    return _product(z, _product(y, x))


def _angles(m: Matrix) -> list[float]:
    """The angles of such a rotation (Slabaugh, Computing Euler Angles from a Rotation Matrix, 1999)."""
    b = math.asin(max(-1.0, min(1.0, -m[2][0])))
    if abs(m[2][0]) < 1 - 1e-12:
        return [
            math.degrees(math.atan2(m[2][1], m[2][2])),
            math.degrees(b),
            math.degrees(math.atan2(m[1][0], m[0][0])),
        ]
    return [math.degrees(math.atan2(-m[1][2], m[1][1])), math.degrees(b), 0.0]


def _product(a: Matrix, b: Matrix) -> Matrix:
    return [[sum(a[i][k] * b[k][j] for k in range(3)) for j in range(3)] for i in range(3)]


def _applied(a: Matrix, v: list[float]) -> list[float]:
    return [sum(a[i][k] * v[k] for k in range(3)) for i in range(3)]
