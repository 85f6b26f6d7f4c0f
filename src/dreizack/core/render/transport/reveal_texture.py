"""Things of which a part is uncovered: opacity and light of a point by where it lies.

The numbers are those of :mod:`dreizack.core.scene.reveal`.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from ...scene import REVEAL_ROW, REVEAL_WAVES
from ..kernel.engine import arrays, engine

mi, dr = engine(), arrays()


class RevealTexture(mi.Texture):  # type: ignore[misc, name-defined]
    """What a texture says where a thing is uncovered, and nothing elsewhere; where it ``sends``, with the
    light of the edge; of what is ``hollow``, nothing from within."""

    def __init__(self, properties: Any) -> None:
        super().__init__(properties)
        self.base, self.sends = properties["base"], properties["sends"]
        self.hollow = properties["hollow"]
        self.numbers = mi.Float(np.zeros(REVEAL_ROW, np.float32))

    def traverse(self, callback: Any) -> None:
        callback.put("base", self.base, mi.ParamFlags.NonDifferentiable)
        callback.put("numbers", self.numbers, mi.ParamFlags.NonDifferentiable)

    def eval(self, si: Any, active: Any = True) -> Any:
        there, edge = self._uncovered(si, active)
        found = self.base.eval(si, active) * there
        if self.sends:
            found += mi.Color3f(*(self._number(23 + c, active) * edge for c in range(3)))
        return self._outside(si, found)

    def eval_1(self, si: Any, active: Any = True) -> Any:
        return self._outside(si, self.base.eval_1(si, active) * self._uncovered(si, active)[0])

    def _outside(self, si: Any, found: Any) -> Any:
        # Through an opening one does not look at the inside of a shell, but through it.
        return dr.select(si.wi.z < 0, 0.0, found) if self.hollow else found

    def mean(self) -> Any:
        return self.base.mean()

    def is_spatially_varying(self) -> bool:
        # By place, not by texture coordinates: samples of emitters are drawn by area.
        return False

    def to_string(self) -> str:
        return f"RevealTexture[{'sends' if self.sends else 'covers'}]"

    def _number(self, index: int, active: Any) -> Any:
        return dr.gather(mi.Float, self.numbers, mi.UInt32(index), active)

    def _uncovered(self, si: Any, active: Any) -> tuple[Any, Any]:
        """How much of a point is there, and how strongly the edge glows at it."""

        def of(index: int) -> Any:
            return self._number(index, active)

        def rows(first: int) -> Any:
            return mi.Vector3f(of(first), of(first + 1), of(first + 2))

        q = mi.Vector3f(*(dr.dot(rows(4 * r), mi.Vector3f(si.p)) + of(4 * r + 3) for r in range(3)))
        runs, x, y, low, scale = of(12), of(13), of(14), of(15), of(16)
        turn = (dr.atan2(q.y, q.x) - dr.atan2(y, x)) * dr.inv_two_pi
        v = dr.select(
            runs < 0.5,
            (q.x * x + q.y * y - low) * scale,
            dr.select(runs < 1.5, dr.sqrt(q.x * q.x + q.y * q.y) * scale, turn - dr.floor(turn)),
        )
        noise = mi.Float(0.0)
        for wave in range(REVEAL_WAVES):
            at = 26 + 4 * wave
            noise += dr.sin(dr.dot(rows(at), q) + of(at + 3))
        v += of(22) * noise / (2 * REVEAL_WAVES)
        b0, b1, e0, e1 = of(17), of(18), of(19), of(20)
        there = _step(b0, b1, v) * (1 - _step(e0, e1, v))
        inside = dr.minimum(v - (b0 + b1) / 2, (e0 + e1) / 2 - v) * of(21)
        edge = dr.clip(1 - dr.maximum(inside, 0), 0, 1)
        return there, there * edge * edge


def _step(low: Any, high: Any, at: Any) -> Any:
    share = dr.clip((at - low) / (high - low), 0, 1)
    return share * share * (3 - 2 * share)


mi.register_texture("reveal", RevealTexture)
