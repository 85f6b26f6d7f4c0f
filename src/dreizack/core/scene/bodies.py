"""The bodies of forms, each made once and named by its content."""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict, defaultdict, deque
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..document import Deformation, Edge, Floor, Mark, Mesh, Sheet, Title, Wire
from ..form import GlyphBody, Profile, build_bodies, profile
from ..form.deform import deformed, pieces
from ..form.refine import refined
from ..form.wire import wired
from .form import READY_MADE, Form, Shape, finishes
from .ground import floor_letters
from .imported import mesh_letters
from .ornaments import ornament_letters
from .pieces import Piece

Floats = NDArray[np.float64]

# Bytes of bodies that are kept; letters of forms whose names are known; forms that can be built on demand.
MOST_BYTES = 96_000_000
MOST_LETTERS = 40_000
MOST_FORMS = 800


@dataclass(frozen=True)
class LetterBody:
    """One body of a form: its name, the ``piece`` it stands where, and how far before that (``shift``,
    metres); the character it stands for, its finish, word and line."""

    body: str
    piece: int
    shift: float
    source: int
    finish: int
    word: int = 0
    line: int = 0


@dataclass(frozen=True)
class _Order:
    """A body that is wanted: one piece in one shape."""

    name: str
    piece: Piece
    number: int
    shift: float
    shape: Shape
    finish: int


class BodyStore:
    """Keeps the most recently used bodies; safe to share between threads."""

    def __init__(self, limit: int = MOST_BYTES) -> None:
        self._bodies: OrderedDict[str, GlyphBody] = OrderedDict()
        self._bytes = 0
        self._forms: OrderedDict[str, tuple[Form, list[LetterBody]]] = OrderedDict()
        self._letters = 0
        # By the name of a body, the key of a form that has it.
        self._recipes: dict[str, str] = {}
        self._built: deque[tuple[int, str]] = deque(maxlen=512)
        self._count = 0
        self._limit = limit
        self._lock = threading.Lock()

    def named(self, form: Form) -> list[LetterBody]:
        """The letters of a form without building their bodies; :meth:`get` builds those that are asked
        for."""
        with self._lock:
            return self._named(form)

    def letters(self, form: Form) -> list[LetterBody]:
        """The letters of a form; bodies not yet known are built together."""
        with self._lock:
            letters = self._named(form)
            if any(letter.body not in self._bodies for letter in letters):
                self._make(form)
            for letter in letters:
                self._bodies.move_to_end(letter.body)
            self._evict(len(letters))
            return letters

    def get(self, name: str) -> GlyphBody | None:
        """A body by name; None for names no form has given lately."""
        with self._lock:
            if name not in self._bodies:
                known = self._forms.get(self._recipes.get(name, ""))
                if known is None:
                    return None
                self._make(known[0])
                self._bodies.move_to_end(name)
                self._evict(len(known[1]))
            self._bodies.move_to_end(name)
            return self._bodies[name]

    @property
    def size(self) -> int:
        """Bytes of the bodies that are kept."""
        return self._bytes

    def _evict(self, needed: int) -> None:
        """Let go of bodies above the limit, but for as many of the latest as are needed together."""
        while self._bytes > self._limit and len(self._bodies) > max(needed, 1):
            _, body = self._bodies.popitem(last=False)
            self._bytes -= body.nbytes

    def mark(self) -> int:
        """A moment, for :meth:`since`."""
        return self._count

    def since(self, mark: int) -> list[str]:
        """Names of the bodies built after a moment (the latest few hundred at most)."""
        with self._lock:
            return [name for count, name in self._built if count > mark]

    def limited(self, letters: Iterable[LetterBody]) -> set[int]:
        """Sources of the letters whose edges had to be limited."""
        return {letter.source for letter in letters if (b := self.get(letter.body)) is not None and b.limited}

    def _named(self, form: Form) -> list[LetterBody]:
        kept = self._forms.get(form.key)
        known = kept[1] if kept else None
        if known is None:
            if isinstance(form.thing, READY_MADE):
                known = [
                    LetterBody(name, 0, 0.0, finish, finish) for name, finish, _ in self._ready_made(form)
                ]
            else:
                orders = _final(list(_orders(form)), form)
                known = [
                    LetterBody(
                        o.name, o.number, o.shift, o.piece.source, o.finish, o.piece.word, o.piece.line
                    )
                    for o in orders
                ]
                known = _wired(known, form)
            self._remember(form, known)
        self._forms.move_to_end(form.key)
        for letter in known:
            self._recipes[letter.body] = form.key
        return known

    def _remember(self, form: Form, letters: list[LetterBody]) -> None:
        self._forms[form.key] = form, letters
        self._letters += len(letters)
        while len(self._forms) > 1 and (self._letters > MOST_LETTERS or len(self._forms) > MOST_FORMS):
            key, (_, gone) = self._forms.popitem(last=False)
            self._letters -= len(gone)
            for letter in gone:
                if self._recipes.get(letter.body) == key:
                    del self._recipes[letter.body]

    def _make(self, form: Form) -> None:
        """Build whatever of a form is lacking."""
        if isinstance(form.thing, READY_MADE):
            for name, _, make in self._ready_made(form):
                if name not in self._bodies:
                    self._keep(name, make())
            return
        orders = list(_orders(form))
        self._build(orders, form.chords)
        if isinstance(form.thing, Sheet):
            for order in orders:
                # The same size as before, only other UVs.
                self._bodies[order.name] = _pictured(self._bodies[order.name], form.thing)
        final = _final(orders, form)
        if final is not orders and any(order.name not in self._bodies for order in final):
            bodies = [self._bodies[order.name] for order in orders]
            for how in _deformations(form):
                bodies = _deformed(bodies, orders, _rest(orders, form), how)
            for order, body in zip(final, bodies, strict=True):
                self._keep(order.name, body)
        wire = _wire(form)
        for order in final if wire is not None else []:
            name = _wire_name(order.name, form)
            if wire is not None and name not in self._bodies:
                self._keep(name, wired(self._bodies[order.name], wire.radius, wire.edges == "between parts"))

    def _ready_made(self, form: Form) -> Iterator[tuple[str, int, Callable[[], GlyphBody]]]:
        """Name, finish and maker of bodies that come from no outline."""
        if isinstance(form.thing, Floor):
            return floor_letters(form.thing)
        if isinstance(form.thing, Mesh):
            return mesh_letters(form.thing)
        return ornament_letters(form, self._resting)

    def _resting(self, form: Form) -> list[tuple[GlyphBody, Floats]]:
        """Bodies of a form with their matrices (4, 4), for what goes by them."""
        letters = self._named(form)
        if not letters:
            return []
        if any(letter.body not in self._bodies for letter in letters):
            self._make(form)
        matrices = body_matrices(letters, form.rest)
        return [(self._bodies[letter.body], at) for letter, at in zip(letters, matrices, strict=True)]

    def _keep(self, name: str, body: GlyphBody) -> None:
        old = self._bodies.get(name)
        self._bodies[name] = body.alone()
        self._bytes += body.nbytes - (old.nbytes if old is not None else 0)
        self._count += 1
        self._built.append((self._count, name))

    def _build(self, orders: list[_Order], tolerance: float) -> None:
        """Build what is lacking, pieces of one size and shape together."""
        lacking: dict[tuple[float, str], dict[str, _Order]] = defaultdict(dict)
        for order in orders:
            if order.name in self._bodies:
                self._bodies.move_to_end(order.name)
            else:
                lacking[order.piece.em, order.shape.key][order.name] = order
        for (em, _), wanted in lacking.items():
            shape = next(iter(wanted.values())).shape
            front, back = edge_profile(shape.front, tolerance), edge_profile(shape.back, tolerance)
            built = build_bodies(
                [order.piece.outline for order in wanted.values()],
                em,
                shape.depth,
                front,
                back,
                tolerance,
                shape.forward,
                (shape.front.counter, shape.back.counter),
            )
            for name, body in zip(wanted, built, strict=True):
                self._keep(name, body)


def _wire(form: Form) -> Wire | None:
    wire = form.thing.wire if isinstance(form.thing, Title | Mark) else None
    return wire if wire is not None and wire.edges != "none" else None


def _wire_name(body: str, form: Form) -> str:
    wire = _wire(form)
    assert wire is not None
    return f"{body}-wire-{wire.edges.replace(' ', '-')}-{wire.radius}"


def _wired(letters: list[LetterBody], form: Form) -> list[LetterBody]:
    """Letters with their wire, or only that."""
    wire = _wire(form)
    if wire is None:
        return letters
    number = len(finishes(form.thing)) - 1
    tubes = [replace(letter, body=_wire_name(letter.body, form), finish=number) for letter in letters]
    return [*letters, *tubes] if wire.solid else tubes


def _deformations(form: Form) -> list[Deformation]:
    return form.thing.deformations if isinstance(form.thing, Title | Mark) else []


def _final(orders: list[_Order], form: Form) -> list[_Order]:
    """Orders under the names their bodies have in the end: where they are deformed, one for each place."""
    deformations = _deformations(form)
    if not deformations or not orders:
        return orders
    places = [(o.name, o.piece.source, o.piece.word, o.piece.line) for o in orders]
    recipe = repr(places) + repr(np.stack(_rest(orders, form)).round(9).tolist())
    recipe += repr([d.model_dump_json() for d in deformations])
    stem = hashlib.blake2b(recipe.encode(), digest_size=12).hexdigest()
    return [replace(o, name=f"{stem}-{i}") for i, o in enumerate(orders)]


def _rest(orders: list[_Order], form: Form) -> list[Floats]:
    """Where the bodies stand that are bent together: matrices (4, 4)."""
    return [placed_by(form.rest, order.number, order.shift) for order in orders]


def placed_by(poses: Floats, piece: int, shift: float) -> Floats:
    """Matrix (4, 4) of a body of a piece, whose poses (pieces, 3 or 4, 4) are known."""
    matrix = np.eye(4)
    matrix[:3] = poses[piece, :3]
    matrix[:3, 3] += matrix[:3, 2] * shift
    return matrix


def body_matrices(letters: Sequence[LetterBody], poses: Floats) -> Floats:
    """Matrices (..., letters, 4, 4) of bodies in their thing, from those of its pieces (..., pieces, 3 or 4,
    4)."""
    matrices = np.zeros((*poses.shape[:-3], len(letters), 4, 4))
    matrices[..., :3, :] = poses[..., [letter.piece for letter in letters], :3, :]
    matrices[..., :3, 3] += matrices[..., :3, 2] * np.array([letter.shift for letter in letters])[:, None]
    matrices[..., 3, 3] = 1
    return matrices


def _pictured(body: GlyphBody, sheet: Sheet) -> GlyphBody:
    """A sheet's body with UVs that run over the whole sheet, openings or not; v upward."""
    uv = (body.position[:, :2] / np.array([sheet.width, sheet.height]) + 0.5).astype(np.float32)
    return GlyphBody(body.position, body.normal, uv, body.triangles, body.ends, body.limited, True)


def edge_profile(edge: Edge, tolerance: float) -> Profile:
    """The profile of an edge, at a tolerance in metres."""
    return profile(edge.profile, edge.reach, edge.rise, tolerance, edge.drawn)


def _orders(form: Form) -> Iterable[_Order]:
    chords = form.chords
    for shape, place, finish in form.shapes:
        for number, piece in enumerate(form.pieces.listed):
            piece_of_shape = form.shelled(piece, finish) if finish else piece
            own = shape.reaching(form.reach[number]) if form.reach is not None else shape
            recipe = f"{piece_of_shape.key}/{piece.em}/{own.key}/{chords}"
            name = hashlib.blake2b(recipe.encode(), digest_size=12).hexdigest()
            yield _Order(name, piece_of_shape, number, place, own, finish or piece.finish)


def _deformed(
    bodies: list[GlyphBody], orders: list[_Order], rest: list[Floats], how: Deformation
) -> list[GlyphBody]:
    groups = {
        "letter": range(len(orders)),
        "word": [o.piece.word for o in orders],
        "line": [o.piece.line for o in orders],
        "title": [0] * len(orders),
    }
    own = how.over == "letter"
    matrices = [np.eye(4) if own else matrix for matrix in rest]
    axis = np.eye(3)["xyz".index(how.axis)]
    # Extents along the axis say how fine the cuts must be.
    numbers = np.unique(list(groups[how.over]), return_inverse=True)[1]
    ends = np.array(
        [_extent(body, matrix, axis) for body, matrix in zip(bodies, matrices, strict=True)]
    ).reshape(-1, 2)
    low, high = np.full(numbers.max() + 1, np.inf), np.full(numbers.max() + 1, -np.inf)
    np.minimum.at(low, numbers, ends[:, 0])
    np.maximum.at(high, numbers, ends[:, 1])
    steps = np.maximum((high - low) * max(abs(how.end - how.start), 0.02) / pieces(how), 1e-6)[numbers]
    cut = [
        refined(body, matrix[:3, :3].T @ axis, float(step))
        for body, matrix, step in zip(bodies, matrices, steps, strict=True)
    ]
    sizes = [len(body.position) for body in cut]
    turned = [np.linalg.inv(matrix[:3, :3]).T for matrix in matrices]
    position = np.concatenate(
        [body.position @ m[:3, :3].T + m[:3, 3] for body, m in zip(cut, matrices, strict=True)]
    )
    normal = np.concatenate([body.normal @ t.T for body, t in zip(cut, turned, strict=True)])
    moved, facing = deformed(position, normal, np.repeat(numbers, sizes), how)
    made = []
    for body, matrix, start in zip(cut, matrices, np.cumsum([0, *sizes[:-1]]), strict=True):
        span = slice(start, start + len(body.position))
        back = np.linalg.inv(matrix)
        place = moved[span] @ back[:3, :3].T + back[:3, 3]
        face = facing[span] @ matrix[:3, :3]
        face /= np.maximum(np.linalg.norm(face, axis=1, keepdims=True), 1e-12)
        made.append(
            GlyphBody(
                place.astype(np.float32),
                face.astype(np.float32),
                body.uv,
                body.triangles,
                body.ends,
                body.limited,
            )
        )
    return made


def _extent(body: GlyphBody, matrix: Floats, axis: Floats) -> tuple[float, float]:
    if body.empty:
        return float(matrix[:3, 3] @ axis), float(matrix[:3, 3] @ axis)
    along = body.position @ (matrix[:3, :3].T @ axis) + float(matrix[:3, 3] @ axis)
    return float(along.min()), float(along.max())
