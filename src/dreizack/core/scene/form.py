"""What shapes a thing at one moment."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray

from ..affine import homogeneous
from ..document import (
    Bodied,
    Body,
    Edge,
    Floor,
    Lettered,
    Mark,
    Mesh,
    Sheet,
    Shell,
    Strand,
    Swarm,
    Title,
    resolve,
)
from ..form import PARTS
from .letter_axes import AxisShifts, letter_axes, shifts_at
from .letter_edges import letter_edges
from .pieces import Piece, Pieces, mark_pieces, sheet_pieces, shell_of, title_pieces
from .posing import Resting, bends_with_pose, letter_poses

Floats = NDArray[np.float64]

# Share of the depth that lies before the plane of the words.
FORWARD = {"both": 0.5, "forward": 1.0, "back": 0.0}
# Chords stay within this share of the cap height where nobody has said how large the picture is.
TOLERANCE = 0.0008
NO_EDGE = Edge(profile="none")
# Things whose bodies come from no outline.
READY_MADE = (Mesh, Floor, Strand, Swarm)


@dataclass(frozen=True)
class Shape:
    """Depth and edges of a body, lengths in metres; ``forward`` is the share of the depth before z = 0."""

    depth: float
    forward: float
    front: Edge
    back: Edge

    @cached_property
    def key(self) -> str:
        return f"{self.depth}/{self.forward}/{self.front.model_dump_json()}/{self.back.model_dump_json()}"

    def reaching(self, share: float) -> Shape:
        """The same with edges that reach and rise further by a share."""
        if share == 1:
            return self
        front, back = (
            edge.model_copy(update={name: getattr(edge, name) * share for name in ("reach", "rise")})
            for edge in (self.front, self.back)
        )
        return replace(self, front=front, back=back)

    @classmethod
    def of(cls, body: Body | Shell) -> Shape:
        return cls(
            body.depth, FORWARD[body.direction] if isinstance(body, Body) else 0.5, body.front, body.back
        )


@dataclass(frozen=True)
class Form:
    """A thing as far as it shapes bodies: geometry alone; ``tolerance`` in metres.

    ``cut`` is what is cut out of a sheet (a title), or what an ornament goes by, and its matrix (16 numbers)
    in the space of the thing; ``moment`` the second at which what runs by itself is seen;
    ``camera`` (3,) where the camera stands in the space of the thing, where letters that face it are bent
    together; ``edges`` by how much those of each piece reach further, ``axes`` by how much it is moved along
    axes of its typeface, where that is keyed.
    """

    thing: Bodied
    tolerance: float = 0.0
    camera: tuple[float, float, float] | None = None
    cut: tuple[Bodied, tuple[float, ...]] | None = None
    poses: tuple[float, ...] | None = None
    moment: float = 0.0
    edges: tuple[float, ...] | None = None
    axes: AxisShifts | None = None

    @cached_property
    def key(self) -> str:
        """A hash of all that shapes the bodies: not where they stand, nor what they wear."""
        shaping = _shaping(self.thing) + repr(self.shifts)
        if self.cut is not None:
            # Grains lie on bodies, and lines are wound round them; others, and openings, go by outlines.
            wound = isinstance(self.thing, Strand) and self.thing.rule == "wound"
            shaping += _shaping(self.cut[0], body=wound or isinstance(self.thing, Swarm))
            shaping += _rest_of(self.cut[0]) + repr(self.cut[1])
        return hashlib.blake2b(
            f"{shaping}/{self.tolerance}/{self.camera}/{self.poses}/{self.moment}/{self.reach}".encode(),
            digest_size=12,
        ).hexdigest()

    @cached_property
    def shifts(self) -> AxisShifts | None:
        """By how much each letter is moved along axes of its typeface; None where none is."""
        if self.axes is not None or not isinstance(self.thing, Title):
            return self.axes
        if not any(letters.axis and letters.axis_by for letters in self.thing.sets):
            return None
        found = letter_axes(self.thing, title_pieces(self.thing), Resting(self.thing), 1)
        return None if found is None else shifts_at(found[0], found[1][0])

    @cached_property
    def reach(self) -> tuple[float, ...] | None:
        """By how much the edges of each piece reach further; None where they are as the body has them."""
        if self.edges is not None or not isinstance(self.thing, Lettered):
            return self.edges
        if all(letters.edges == 1 for letters in self.thing.sets):
            return None
        found = letter_edges(self.thing, self.pieces, Resting(self.thing), 1)
        return None if found is None else tuple(found[0].tolist())

    @cached_property
    def outlines_key(self) -> str:
        """A hash of all that shapes the outlines bodies are made from."""
        shaping = _shaping(self.thing, body=False) + repr(self.shifts)
        if self.cut is not None:
            shaping += _shaping(self.cut[0], body=False) + _rest_of(self.cut[0]) + repr(self.cut[1])
        return hashlib.blake2b(shaping.encode(), digest_size=12).hexdigest()

    @cached_property
    def pieces(self) -> Pieces:
        found = _known.get(self.outlines_key)
        if found is None:
            found = _known[self.outlines_key] = self._made()
            while len(_known) > 256:
                _known.popitem(last=False)
        else:
            _known.move_to_end(self.outlines_key)
        return found

    @cached_property
    def rest(self) -> Floats:
        """Matrices (pieces, 4, 4) of its pieces as the thing has them, without any keys."""
        if self.poses is not None:
            return np.array(self.poses).reshape(-1, 4, 4)
        camera = None if self.camera is None else np.array([self.camera])
        return homogeneous(letter_poses(self.thing, self.pieces, Resting(self.thing), 1, camera)[0])

    def _made(self) -> Pieces:
        if isinstance(self.thing, Title):
            return title_pieces(self.thing, self.shifts)
        if isinstance(self.thing, Mark):
            return mark_pieces(self.thing)
        if isinstance(self.thing, Sheet):
            if self.cut is None:
                return sheet_pieces(self.thing)
            # Openings are where the letters rest, whatever their sets do.
            resting = Form(self.cut[0].model_copy(update={"sets": []}))
            space = np.array(self.cut[1]).reshape(4, 4)
            return sheet_pieces(self.thing, zip(resting.pieces.listed, space @ resting.rest, strict=True))
        return Pieces([])

    def label(self, piece: Piece) -> str:
        """What a piece stands for: a character of the words, or the name of an outline."""
        if isinstance(self.thing, Title):
            return self.thing.words[piece.source : piece.source + 1]
        return self.thing.pieces[piece.source].name if isinstance(self.thing, Mark) else self.thing.name

    @property
    def chords(self) -> float:
        """How far chords may stray from curves, in metres."""
        return self.tolerance or self.thing.extent * TOLERANCE

    def coarser(self, share: float) -> Form:
        """The same where chords may stray from curves by a share of its size, or more if they may anyway."""
        return replace(self, tolerance=max(self.chords, self.thing.extent * share))

    @property
    def shapes(self) -> list[tuple[Shape, float, int]]:
        """The body and each shell: shape, place in depth, and which finish it wears (0: that of the
        piece)."""
        if isinstance(self.thing, Sheet):
            return [(Shape(self.thing.thickness, 0.5, NO_EDGE, NO_EDGE), 0.0, 0)]
        if isinstance(self.thing, READY_MADE):
            return []
        assert isinstance(self.thing, Title | Mark)
        body = Shape.of(self.thing.body)
        middle = (body.forward - 0.5) * body.depth
        first = len(self.thing.own_finishes)
        return [(body, 0.0, 0)] + [
            (Shape.of(shell), middle + shell.place, first + i) for i, shell in enumerate(self.thing.shells)
        ]

    def shelled(self, piece: Piece, finish: int) -> Piece:
        """The outline of a piece as the shell that wears a finish has it."""
        assert isinstance(self.thing, Title | Mark)
        shell = self.thing.shells[finish - len(self.thing.own_finishes)]
        return shell_of(piece, shell.offset)


_known: OrderedDict[str, Pieces] = OrderedDict()

# Of a set, what only moves its letters.
MOVES = (
    "move",
    "turn",
    "scale",
    "stretch",
    "depth",
    "shear",
    "scatter",
    "spin",
    "scatter_seed",
    "hinge",
    "timing",
)
# Of a set, what its letters look like.
LOOKS = ("opacity", "glow", "tint", "roughness")
# What is no matter of shape at all, anywhere in a thing.
_PLAIN = {"name", "look", "place", "span", "telling", "finish", "fill", "visibility", "reveal"}
_FINISH = {"__all__": {"finish"}}


def _shaping(thing: Bodied, body: bool = True) -> str:
    """All of a thing that shapes its bodies (or only their outlines), as text."""
    if not isinstance(thing, Lettered):
        return thing.model_dump_json(
            exclude=_PLAIN | ({"finishes"} if isinstance(thing, Mesh) else set())
        ) + (str(len(thing.finishes)) if isinstance(thing, Mesh) else "")
    bent = bends_with_pose(thing) and body
    # How far edges of letters reach is counted letter by letter.
    plain = {"finish", "edges", "axis", "axis_by", *LOOKS}
    sets: dict[str, object] = {"__all__": plain if bent else {*plain, *MOVES}}
    leave: dict[str, object] = {**dict.fromkeys(_PLAIN, True), "sets": sets}
    # Of the shells, those that have outlines of their own are made from them later.
    leave |= (
        {"shells": _FINISH, "wire": {"finish"}}
        if body
        else {"shells": True, "wire": True, "body": True, "deformations": True}
    )
    if isinstance(thing, Mark):
        leave["finishes"] = True
        if not bent:
            leave["poses"] = True
        return thing.model_dump_json(exclude=cast(Any, leave)) + f"/{len(thing.finishes)}/{len(thing.shells)}"
    ranges, setting = {"finish"}, set()
    if not bent:
        setting |= {"poses"}
    if not bent and not thing.welds:
        setting |= {"tracking", "leading", "gaps", "align"}
        ranges |= {"tracking", "lift"}
        leave["path"] = True
    leave |= {"setting": setting, "ranges": {"__all__": ranges}}
    return thing.model_dump_json(exclude=cast(Any, leave)) + f"/{len(thing.shells)}"


def _rest_of(thing: Bodied) -> str:
    """Where the letters or outlines of a thing rest, as text."""
    return thing.model_dump_json(include={"setting", "path", "ranges", "poses"})


def finishes(thing: Bodied) -> list[str]:
    """Pointers, below a thing, of all finishes its bodies wear by number: pieces, then shells, sets, and the
    wire."""
    found = list(thing.own_finishes)
    if isinstance(thing, Lettered):
        found += [f"/shells/{i}/finish" for i in range(len(thing.shells))]
        found += [f"/sets/{i}/finish" for i, letters in enumerate(thing.sets) if letters.own_finish]
        found += ["/wire/finish"] if thing.wire.edges != "none" else []
    return found


def surfaces(thing: Bodied) -> tuple[list[str], NDArray[np.int64]]:
    """Pointers, below a thing, of all its surfaces, and which one each part wears (finishes, PARTS)."""
    pointers: list[str] = []
    worn = []
    for at in finishes(thing):
        whole = len(pointers)
        pointers.append(at)
        own = resolve(thing, at).parts
        row = []
        for part in PARTS:
            row.append(len(pointers) if part in own else whole)
            if part in own:
                pointers.append(f"{at}/parts/{part}")
        worn.append(row)
    return pointers, np.array(worn, np.int64)
