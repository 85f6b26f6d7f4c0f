"""Ornaments as bodies: strands and swarms at a moment."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from ..caching import cached_by_size
from ..document import Bodied, Lettered, Strand, Swarm
from ..form import GlyphBody
from ..form.contours import flatten
from ..form.ornaments import grain_body, places_of_grains, shown_lines, tube_body, wound
from ..lettering.placing import curve
from .form import Form
from .on_triangles import areas_summed, on_triangles

Floats = NDArray[np.float64]
Resting = Callable[[Form], list[tuple[GlyphBody, Floats]]]

# Chords of outlines that strands run along stray so far, in metres.
STRAY = 0.001


def ornament_letters(form: Form, resting: Resting) -> Iterator[tuple[str, int, Callable[[], GlyphBody]]]:
    """Name, finish and maker of the one body of an ornament; ``resting`` answers bodies of what it goes
    by."""
    thing = form.thing
    if isinstance(thing, Strand):

        def strand() -> GlyphBody:
            ways = _wound(form, thing, resting) if thing.rule == "wound" else ways_of(form)
            return tube_body(shown_lines(thing, form.moment, ways))

        yield f"strand-{form.key}", 0, strand
    if isinstance(thing, Swarm):

        def swarm() -> GlyphBody:
            places, size = places_of_grains(thing, form.moment, _gathered(form, thing, resting))
            return grain_body(thing, places, size)

        yield f"swarm-{form.key}", 0, swarm


def ways_of(form: Form) -> list[Floats]:
    """Lines (n, 3) that a strand runs along, drawn or of outlines, in its space."""
    assert isinstance(form.thing, Strand)
    return _drawn(form.thing) if form.thing.rule == "drawn" else _outlines(form)


def _drawn(strand: Strand) -> list[Floats]:
    """The line that was drawn (n, 3), and so many beside it, each as far from the one before."""
    points = curve(strand.drawn).points
    ahead = np.gradient(points, axis=0)
    ahead /= np.maximum(np.linalg.norm(ahead, axis=1, keepdims=True), 1e-12)
    beside = np.column_stack([-ahead[:, 1], ahead[:, 0]])
    steps = (np.arange(strand.count) - (strand.count - 1) / 2) * strand.spread
    return [np.column_stack([points + beside * step, np.zeros(len(points))]) for step in steps]


def _outlines(form: Form) -> list[Floats]:
    """Closed lines (n, 3) of the words, or the mark, a strand runs along, in its space."""
    if form.cut is None:
        return []
    title, space = Form(_unmoved(form.cut[0])), np.array(form.cut[1]).reshape(4, 4)
    found = []
    for piece, pose in zip(title.pieces.listed, title.rest, strict=True):
        matrix = space @ pose
        lines = flatten([piece.outline], piece.em, STRAY)
        for number in np.unique(lines.contour):
            contour = lines.points[lines.contour == number]
            flat = np.column_stack([contour, np.zeros(len(contour))])
            found.append(flat @ matrix[:3, :3].T + matrix[:3, 3])
    return found


def _wound(form: Form, strand: Strand, resting: Resting) -> list[Floats]:
    """Lines round what a strand goes by, in its space."""
    if form.cut is None:
        return []
    space = np.array(form.cut[1]).reshape(4, 4)
    points = [
        (body.position @ at[:3, :3].T + at[:3, 3]) @ space[:3, :3].T + space[:3, 3]
        for body, at in resting(Form(_unmoved(form.cut[0])))
        if not body.empty
    ]
    if not points:
        return []
    return wound(np.concatenate(points).astype(np.float64), strand.turns, strand.count, strand.spread)


def _gathered(form: Form, swarm: Swarm, resting: Resting) -> Floats | None:
    """Where grains are on the bodies of what they gather on (grains, 3): evenly over their surfaces."""
    if form.cut is None or swarm.gather <= 0:
        return None
    target = Form(_unmoved(form.cut[0]))
    return _spread(_Target(target, form.cut[1], resting), swarm.count, swarm.seed)


class _Target:
    """Bodies that grains gather on, named by their form and place."""

    def __init__(self, form: Form, space: tuple[float, ...], resting: Resting) -> None:
        self.form, self.space, self.resting = form, space, resting

    def __hash__(self) -> int:
        return hash((self.form.key, self.space))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Target) and (self.form.key, self.space) == (other.form.key, other.space)


@cached_by_size(16)
def _spread(target: _Target, count: int, seed: int) -> Floats | None:
    """Places evenly over surfaces, in no order."""
    space = np.array(target.space).reshape(4, 4)
    corners = [
        ((body.position @ at[:3, :3].T + at[:3, 3]) @ space[:3, :3].T + space[:3, 3])[body.triangles]
        for body, at in target.resting(target.form)
        if not body.empty
    ]
    if not corners:
        return None
    triangles = np.concatenate(corners).astype(np.float64)
    rng = np.random.default_rng([seed, 13])
    # One in each of as many shares of the area, so that none is bare.
    over = rng.permutation((np.arange(count) + rng.random(count)) / count)
    shares = np.column_stack([over, rng.random((count, 1)), rng.random((count, 1))])
    return on_triangles(triangles, areas_summed(triangles), shares)[0]


def _unmoved(thing: Bodied) -> Bodied:
    """A thing without what moves its letters: ornaments go by where it rests."""
    return thing.model_copy(update={"sets": []}) if isinstance(thing, Lettered) else thing
