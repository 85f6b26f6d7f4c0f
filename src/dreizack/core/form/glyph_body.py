"""What a body is: a closed mesh in four parts."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

PARTS = ("face", "bevel", "wall", "back")


@dataclass(frozen=True)
class GlyphBody:
    """A letter's mesh in metres, its origin on the baseline.

    ``position``, ``normal`` (vertices, 3) and ``uv`` (vertices, 2) are float32; ``triangles``
    (count, 3) uint32 stand in the order of :data:`PARTS`, ``ends`` (4,) being the end of each part.
    ``limited`` says that an edge had to stop short because strokes or counters would have closed,
    ``pictured`` that ``uv`` spans a picture over it.
    """

    position: NDArray[np.float32]
    normal: NDArray[np.float32]
    uv: NDArray[np.float32]
    triangles: NDArray[np.uint32]
    ends: tuple[int, int, int, int]
    limited: bool
    pictured: bool = False

    @property
    def nbytes(self) -> int:
        """Bytes of its arrays."""
        return self.position.nbytes + self.normal.nbytes + self.uv.nbytes + self.triangles.nbytes

    def alone(self) -> GlyphBody:
        """The same with arrays of its own, where they are parts of larger ones that would be kept with
        them."""
        if self.position.base is None and self.triangles.base is None:
            return self
        return replace(
            self,
            position=self.position.copy(),
            normal=self.normal.copy(),
            uv=self.uv.copy(),
            triangles=self.triangles.copy(),
        )

    @property
    def empty(self) -> bool:
        return len(self.triangles) == 0

    def part(self, name: str) -> NDArray[np.uint32]:
        """Triangles of one part."""
        index = PARTS.index(name)
        return self.triangles[self.ends[index - 1] if index else 0 : self.ends[index]]
