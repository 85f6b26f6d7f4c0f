"""Points followed through footage, as sparse arrays."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Tracks:
    """Observations, one a row: which ``track`` (n,), at which ``frame`` (n,), and where, ``xy`` (n, 2), in
    pixels from the top left corner of the picture; the middle of the first pixel is (0.5, 0.5)."""

    track: Ints
    frame: Ints
    xy: Floats

    def __len__(self) -> int:
        return len(self.track)

    @property
    def count(self) -> int:
        """One more than the highest number of a track."""
        return int(self.track.max()) + 1 if len(self.track) else 0

    def only(self, keep: NDArray[np.bool_]) -> Tracks:
        """The observations for which ``keep`` (n,) holds."""
        return Tracks(self.track[keep], self.frame[keep], self.xy[keep])

    def at_least(self, frames: int) -> Tracks:
        """Those of tracks seen in so many frames."""
        return self.only(np.bincount(self.track, minlength=self.count)[self.track] >= frames)

    def table(self, frames: Ints) -> Floats:
        """Places (tracks, len(frames), 2) at some frames; NaN where a track is not seen."""
        found = np.full((self.count, len(frames), 2), np.nan)
        column = np.full(max(int(self.frame.max(initial=0)), int(frames.max(initial=0))) + 1, -1)
        column[frames] = np.arange(len(frames))
        there = column[self.frame] >= 0
        found[self.track[there], column[self.frame[there]]] = self.xy[there]
        return found
