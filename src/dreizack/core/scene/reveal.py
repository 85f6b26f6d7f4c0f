"""What of a thing is uncovered, as numbers by which renderer and live view tell of every point how much of it
is there.

A point at ``q`` (metres from the middle of the thing's box, in the thing's own space) has a place on the way
of the edge: v = (q · towards - low) / long where it runs straight, |q| / long from the middle, the share of a
turn round it; plus ragged · (noise(q) - ½). What is there is

    smoothstep(b, b + soft, v) · (1 - smoothstep(e, e + soft, v)),

and the edge glows by (1 - d)² within a width of it, d being how far inside the point is. ``b`` and ``e`` go
so far beyond both ends that at 0 nothing and at 1 all is there, glow and raggedness included.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..caching import cached_by_size
from ..document import Bodied, Lettered, Reveal
from ..motion import Motion
from .bodies import BodyStore
from .form import Form
from .points import body_points
from .posing import bends_with_pose

Floats = NDArray[np.float64]

# What of a reveal may move, in the order of its columns.
REVEAL_VALUES = ("begin", "end", "angle", "softness", "ragged", "glow", "width", "tint/r", "tint/g", "tint/b")
RUNS = ("straight", "from the middle", "round")
# Waves of the noise by which edges stray.
WAVES = 8
# Numbers of a row: map (12), runs, towards (2), low, share of a metre, four steps of the edges, share of a
# width, ragged, glow (3), waves (4 each).
ROW = 26 + 4 * WAVES
# Narrower edges would be stairs.
SHARPEST = 1e-4


def baked_reveal(motion: Motion, at: str, thing: Bodied) -> Floats | None:
    """:data:`REVEAL_VALUES` (frames, 10) of a thing; None where always all of it is there."""
    reveal = getattr(thing, "reveal", None)
    if reveal is None or (
        reveal.whole and not any(motion.keyed(f"{at}/reveal/{name}") for name in ("begin", "end"))
    ):
        return None
    return np.stack([motion.value(f"{at}/reveal/{name}") for name in REVEAL_VALUES], axis=1)


@dataclass(frozen=True)
class RevealState:
    """A reveal at a frame: how it runs, how large its grains are (metres), :data:`REVEAL_VALUES` (10,)."""

    runs: str
    grain: float
    values: tuple[float, ...]

    @property
    def glows(self) -> bool:
        return self.values[REVEAL_VALUES.index("glow")] > 0


def reveal_state(thing: Bodied, values: Floats) -> RevealState:
    """The reveal of a thing that has one, its :data:`REVEAL_VALUES` (10,) at a frame."""
    reveal: Reveal = getattr(thing, "reveal")  # noqa: B009
    return RevealState(reveal.runs, reveal.grain, tuple(values.round(6).tolist()))


def reveal_rows(states: list[RevealState], matrices: Floats, box: Floats) -> Floats:
    """Numbers (n, ROW) of a reveal at some frames: ``matrices`` (n, 4, 4) is where the thing stands then,
    ``box`` (2, 3) how far it reaches in its own space, where its letters rest."""
    values = np.array([state.values for state in states])
    begin, end, angle, soft, ragged, glow, width = values[:, :7].T
    runs = RUNS.index(states[0].runs)
    middle, half = box.mean(axis=0), np.ptp(box, axis=0) / 2
    way = np.radians(angle)
    towards = np.stack([np.cos(way), np.sin(way)], axis=1)
    far = np.abs(towards) @ half[:2] if runs == 0 else np.full(len(values), np.hypot(*half[:2]))
    far = np.maximum(far, 1e-6)
    soft, wide = np.maximum(soft, SHARPEST), np.where(glow > 0, np.maximum(width, SHARPEST), 0.0)
    room = 1 + ragged + soft + wide
    b = -ragged / 2 - soft - wide + begin * room
    e = -ragged / 2 - soft + end * room
    inverse = np.linalg.inv(matrices)[:, :3]
    inverse[:, :, 3] -= middle
    return np.column_stack(
        [
            inverse.reshape(len(values), 12),
            np.full(len(values), runs),
            towards,
            -far if runs == 0 else 0 * far,
            1 / (2 * far if runs == 0 else far),
            b,
            b + soft,
            e,
            e + soft,
            1 / np.maximum(wide, SHARPEST),
            ragged,
            values[:, 7:] * glow[:, None],
            np.tile(_waves(states[0].grain).ravel(), (len(values), 1)),
        ]
    )


def uncovered(row: Floats, points: Floats) -> tuple[Floats, Floats]:
    """How much of ``points`` (n, 3) in the room is there (n,), and what the edge sends there (n, 3)."""
    q = points @ row[:12].reshape(3, 4)[:, :3].T + row[3:12:4]
    runs, towards, (low, scale) = int(row[12]), row[13:15], row[15:17]
    if runs == 0:
        v = (q[:, :2] @ towards - low) * scale
    elif runs == 1:
        v = np.hypot(q[:, 0], q[:, 1]) * scale
    else:
        turn = np.arctan2(q[:, 1], q[:, 0]) - np.arctan2(towards[1], towards[0])
        v = (turn / (2 * np.pi)) % 1.0
    waves = row[26:].reshape(WAVES, 4)
    v = v + row[22] * np.sin(q @ waves[:, :3].T + waves[:, 3]).sum(axis=1) / (2 * WAVES)
    b0, b1, e0, e1 = row[17:21]
    there = _step(b0, b1, v) * (1 - _step(e0, e1, v))
    inside = np.minimum(v - (b0 + b1) / 2, (e0 + e1) / 2 - v) * row[21]
    edge = there * np.clip(1 - np.maximum(inside, 0), 0, 1) ** 2
    return there, edge[:, None] * row[23:26]


def _step(low: float, high: float, at: Floats) -> Floats:
    share = np.clip((at - low) / (high - low), 0, 1)
    found: Floats = share * share * (3 - 2 * share)
    return found


def _waves(grain: float) -> Floats:
    """Wave vectors a metre and phases (WAVES, 4) of a noise whose parts are about ``grain`` metres large."""
    rng = np.random.default_rng(29)
    ways = rng.normal(size=(WAVES, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    often = np.pi / grain * np.geomspace(0.6, 2.6, WAVES)
    return np.column_stack([ways * often[:, None], rng.uniform(0, 2 * np.pi, WAVES)])


def reveal_box(form: Form, bodies: BodyStore) -> Floats:
    """How far a form reaches in its own space (2, 3), where its letters rest and no set moves them."""
    return _box(_Resting(form, bodies))


class _Resting:
    """A form, named by what it is made from and where its letters rest."""

    def __init__(self, form: Form, bodies: BodyStore) -> None:
        self.form, self.bodies = form, bodies
        still = form
        if isinstance(form.thing, Lettered) and not bends_with_pose(form.thing):
            still = replace(form, thing=form.thing.model_copy(update={"sets": []}))
        self.rest = still.rest[:, :3]
        self._key = (form.key, self.rest.round(6).tobytes())

    def __hash__(self) -> int:
        return hash(self._key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Resting) and self._key == other._key


@cached_by_size(2)
def _box(resting: _Resting) -> Floats:
    form = resting.form
    points, _ = body_points(form, np.eye(4), resting.rest, resting.bodies)
    if not len(points):
        return np.zeros((2, 3))
    return np.stack([points.min(axis=0), points.max(axis=0)])
