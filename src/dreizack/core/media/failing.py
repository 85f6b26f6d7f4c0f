"""Frames that cannot be rendered: told at the end, and no hindrance to the others."""

from __future__ import annotations

import logging
from collections.abc import Iterable

from ..document import LostFile

LOG = logging.getLogger(__name__)

# So many numbers are listed.
LISTED = 8


class FramesFailed(RuntimeError):
    """Some frames of a delivery could not be rendered; ``why`` says by frame what was wrong,
    ``given_up`` that no others were tried."""

    def __init__(self, why: dict[int, str], given_up: bool = False) -> None:
        self.why = dict(sorted(why.items()))
        frames = list(self.why)
        one = len(frames) == 1
        said = f"frame {frames[0]}" if one else f"frames {_runs(frames)}"
        reason = "; ".join(dict.fromkeys(self.why.values()))
        rest = f"all others are kept, so that ordering it again renders only {'this one' if one else 'these'}"
        if given_up:
            rest = "as no other was, the rest has not been tried"
        super().__init__(f"{said} could not be rendered ({reason[:300]}); {rest}")


class FilesLost(RuntimeError):
    """What is to be rendered needs files that are not there; says which, and what for."""

    def __init__(self, lost: Iterable[LostFile]) -> None:
        super().__init__("; ".join(dict.fromkeys(one.says for one in lost)))


class Failing:
    """Takes note of frames that fail. An order of which none of the first ones can be rendered is given up,
    unless it is ``patient``."""

    # After so many and none before them it is not the frames.
    HOPELESS = 3

    def __init__(self, patient: bool = False) -> None:
        self.why: dict[int, str] = {}
        self._patient, self._fine = patient, 0

    def fine(self) -> None:
        """A frame has been rendered."""
        self._fine += 1

    def failed(self, frame: int, fault: Exception) -> None:
        """A frame has failed twice, or there is no use in trying."""
        if isinstance(fault, FilesLost):
            self.note(frame, str(fault)[:200])
            return
        LOG.error("frame %d cannot be rendered", frame, exc_info=fault)
        first = (str(fault).splitlines() or [""])[0]
        self.note(frame, f"{type(fault).__name__}: {first}"[:200])

    def note(self, frame: int, why: str) -> None:
        """A frame is not there. FramesFailed where there is no hope for the others."""
        self.why[frame] = why
        if not self._patient and not self._fine and len(self.why) >= self.HOPELESS:
            raise FramesFailed(self.why, given_up=True)

    def tell(self) -> None:
        """FramesFailed where some did."""
        if self.why:
            raise FramesFailed(self.why)


def _runs(frames: Iterable[int]) -> str:
    """Numbers as text, runs of them drawn together.

    >>> _runs([1, 2, 3, 7, 9, 10])
    '1-3, 7, 9-10'
    """
    runs: list[list[int]] = []
    for frame in frames:
        if runs and frame == runs[-1][1] + 1:
            runs[-1][1] = frame
        else:
            runs.append([frame, frame])
    said = [str(a) if a == b else f"{a}-{b}" for a, b in runs]
    return ", ".join(said[:LISTED]) + (f" and {len(said) - LISTED} more" if len(said) > LISTED else "")
