"""How a camera moved: from footage to cameras, lens and points."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from .bundle import Bundle, Free, adjusted
from .mapping import mapped, within
from .tracking import follow
from .tracks import Tracks
from .turning import turned

Floats = NDArray[np.float64]
Masks = Callable[[int, tuple[int, int]], NDArray[np.bool_]]
Kind = Literal["moving", "turning", "still"]

# Pixels (of a picture 960 wide): a camera that moved less stood still; one that only turned fits so well.
STILL, TURNS, MOST_TURN = 1.5, 0.35, 0.6
# Points whose residual says that a solve is good, usable; above, it is poor.
GOOD, USABLE = 0.35, 1.0
# Of at least so many points fewer than such a share go on over a cut.
CUT_OF, CUT = 60, 0.04
# Points that miss by less leave nothing to rows read one by one; shares of a frame that are tried for that,
# and how much better they must fit.
EXACT, READOUTS, CLEARLY = 0.08, (0.25, 0.5, 0.75, 1.0), 0.85
# Tracks shorter than that say little.
SHORTEST = 4


class NoSolve(ValueError):
    """Why footage could not be solved and what to do; a sentence for whoever asked. ``cuts``: frames at
    which something else begins."""

    def __init__(self, why: str, cuts: Sequence[int] = ()) -> None:
        super().__init__(why)
        self.cuts = tuple(cuts)


@dataclass(frozen=True)
class Solve:
    """What was found: ``kind`` of movement, ``bundle``, the ``tracks`` that bear it, and the mean residual of
    each frame (frames,) in pixels, NaN where nothing bears it. ``by`` says what it was found from."""

    kind: Kind
    bundle: Bundle
    tracks: Tracks
    residual: Floats
    by: Literal["points", "rectangle", "edges"] = "points"

    @property
    def frames(self) -> int:
        return len(self.bundle.centres)

    @property
    def rms(self) -> float:
        """Root of the mean square residual of all observations, in pixels."""
        left = self.bundle.residuals(self.tracks)
        return float(np.sqrt((left**2).sum(axis=1).mean())) if len(left) else float("nan")


def solved(
    pictures: Iterable[NDArray[np.uint8]],
    focal: float | None = None,
    masks: Masks | None = None,
    told: Callable[[str, float], None] = lambda _what, _share: None,
    frames: int = 0,
) -> Solve:
    """Solve grey pictures (height, width). ``focal`` in pixels may be known; ``masks`` says what is left out
    of a frame, by its number and the size (width, height); ``told`` hears what is being done and how far it
    is, and may raise to stop. NoSolve says why it cannot be done."""
    size: list[tuple[int, int]] = []

    def looked() -> Iterable[NDArray[np.uint8]]:
        for picture in pictures:
            size[:] = [(picture.shape[1], picture.shape[0])]
            yield picture

    def masked(frame: int) -> NDArray[np.bool_] | None:
        return masks(frame, size[0]) if masks is not None else None

    tracks = follow(looked(), masked, lambda frame: told("following points", frame / max(frames, frame + 1)))
    if not size:
        raise NoSolve("there is no picture in this clip")
    return solve_tracks(tracks, size[0], focal, told)


def solve_tracks(
    tracks: Tracks,
    size: tuple[int, int],
    focal: float | None = None,
    told: Callable[[str, float], None] = lambda _what, _share: None,
) -> Solve:
    """Solve points that were followed through pictures of a ``size`` (width, height)."""
    if not len(tracks):
        raise NoSolve("no point could be found: there is no texture to hold on to; match this shot by eye")
    frames = int(tracks.frame.max()) + 1
    cuts = cut_frames(tracks)
    if cuts:
        named = ", ".join(str(frame) for frame in cuts[:5]) + (" …" if len(cuts) > 5 else "")
        there = "there are cuts" if len(cuts) > 1 else "there is a cut"
        raise NoSolve(f"{there} in this clip, at frame {named}: take a piece as a plate of its own", cuts)
    if frames < 3:
        raise NoSolve("a camera needs at least three frames to be found; match this shot by eye")
    tracks = _numbered(tracks.at_least(min(SHORTEST, frames)))
    if tracks.count < 20:
        raise NoSolve(
            "too few points could be followed: take a longer piece, one with more texture, or match by eye"
        )
    scale = size[0] / 960
    told("looking how it moves", 0.0)
    if _travel(tracks) < STILL * scale:
        return _still(tracks, frames, size, focal)
    steps = _steps(told, "trying a camera that turns")
    turning = turned(tracks, frames, size, focal, steps)
    left = np.linalg.norm(turning.residuals(tracks), axis=1)
    if np.median(left) < TURNS * scale and (left < 4 * MOST_TURN * scale).mean() > MOST_TURN:
        kept = tracks.only(left < 2 * scale).at_least(3)
        turning = adjusted(turning, kept, Free(centres=False, focal=focal is None), 12, steps)
        return _solve("turning", turning, kept, frames)
    moving = mapped(tracks, frames, size, focal, _steps(told, "finding the camera's way"))
    if moving is None:
        raise NoSolve(
            "the frames do not hang together: there may be a cut in this clip, or most of what is seen moves "
            "by itself; take a piece without cuts, or match by eye"
        )
    kept = within(moving, tracks, 2.0 * scale)
    moving = _rolling(moving, kept, scale, focal, _steps(told, "looking whether rows are read one by one"))
    return _solve("moving", moving, within(moving, tracks, 2.0 * scale), frames)


def _rolling(
    bundle: Bundle, tracks: Tracks, scale: float, focal: float | None, steps: Callable[[], None]
) -> Bundle:
    """The same with rows read out one after the other, where that fits clearly better (Hedborg et al.,
    Rolling Shutter Bundle Adjustment, 2012)."""
    if not len(tracks) or _rms(bundle, tracks) < EXACT * scale:
        return bundle
    few = _numbered(tracks.only(tracks.track % 3 == 0))
    chosen = np.unique(tracks.track[tracks.track % 3 == 0])
    start = replace(bundle, points=bundle.points[chosen])
    free = Free(focal=focal is None)
    best, least = 0.0, _rms(adjusted(start, few, free, 6, steps), few)
    for readout in READOUTS:
        left = _rms(adjusted(replace(start, readout=readout), few, free, 6, steps), few)
        if left < least * (CLEARLY if best == 0 else 1):
            best, least = readout, left
    if best == 0:
        return bundle
    # Between those that were tried, by the parabola through them.
    near = [max(best - 0.1, 0.02), best, min(best + 0.1, 1.2)]
    cost = [_rms(adjusted(replace(start, readout=one), few, free, 6, steps), few) ** 2 for one in near]
    (a, b, c), (x, y, z) = cost, near
    bend = (c - b) / (z - y) - (b - a) / (y - x)
    slope = (c - a) / (z - x)
    if bend > 0:
        best = float(np.clip(y - slope * (z - x) / 2 / bend, near[0], near[2]))
    return adjusted(replace(bundle, readout=best), tracks, free, 14, steps)


def _rms(bundle: Bundle, tracks: Tracks) -> float:
    square = (bundle.residuals(tracks) ** 2).sum(axis=1)
    # A few that are far off say nothing.
    return float(np.sqrt(np.minimum(square, np.percentile(square, 90)).mean()))


def cut_frames(tracks: Tracks) -> list[int]:
    """Frames at which nearly all that was followed is lost at once: cuts."""
    count = np.bincount(tracks.frame)
    order = np.lexsort((tracks.frame, tracks.track))
    track, frame = tracks.track[order], tracks.frame[order]
    onward = (track[1:] == track[:-1]) & (frame[1:] == frame[:-1] + 1)
    kept = np.bincount(frame[1:][onward], minlength=len(count))
    lost = (count[:-1] >= CUT_OF) & (kept[1:] < CUT * count[:-1])
    return (np.flatnonzero(lost) + 1).tolist()


def _steps(told: Callable[[str, float], None], what: str) -> Callable[[], None]:
    count = [0]

    def step() -> None:
        count[0] += 1
        told(what, 1 - 0.97 ** count[0])

    return step


def _numbered(tracks: Tracks) -> Tracks:
    """The same, numbered without gaps."""
    _, number = np.unique(tracks.track, return_inverse=True)
    return Tracks(number.astype(np.int64), tracks.frame, tracks.xy)


def _travel(tracks: Tracks) -> float:
    """Pixels that most points move at most, over all frames."""
    order = np.lexsort((tracks.frame, tracks.track))
    track, xy = tracks.track[order], tracks.xy[order]
    begin = np.searchsorted(track, np.arange(tracks.count))
    far = np.linalg.norm(xy - xy[begin[track]], axis=1)
    most = np.zeros(tracks.count)
    np.maximum.at(most, track, far)
    long = np.bincount(track) >= np.percentile(np.bincount(track), 50)
    return float(np.median(most[long]))


def _still(tracks: Tracks, frames: int, size: tuple[int, int], focal: float | None) -> Solve:
    """A camera that stands: nothing tells its lens."""
    length = focal or 1.2 * size[0]
    total = np.stack([np.bincount(tracks.track, tracks.xy[:, k]) for k in range(2)], axis=1)
    mean = total / np.bincount(tracks.track)[:, None]
    flat = (mean - np.array(size) / 2) / length
    points = np.concatenate([flat, np.ones((len(flat), 1))], axis=1)
    bundle = Bundle(np.tile(np.eye(3), (frames, 1, 1)), np.zeros((frames, 3)), points, length, 0.0, size)
    return _solve("still", bundle, tracks, frames)


def _solve(kind: Kind, bundle: Bundle, tracks: Tracks, frames: int) -> Solve:
    if not len(tracks):
        raise NoSolve("nothing in this clip holds still; mask what moves, or match by eye")
    return Solve(kind, upright(bundle, kind), tracks, residual_over_time(bundle, tracks, frames))


def residual_over_time(bundle: Bundle, tracks: Tracks, frames: int) -> Floats:
    """Pixels (frames,) by which points miss, root of the mean square; NaN where few are seen."""
    left = (bundle.residuals(tracks) ** 2).sum(axis=1)
    count = np.bincount(tracks.frame, minlength=frames)
    with np.errstate(invalid="ignore", divide="ignore"):
        residual: Floats = np.sqrt(np.bincount(tracks.frame, left, frames) / count)
    residual[count < 6] = np.nan
    return residual


def upright(bundle: Bundle, kind: Kind) -> Bundle:
    """The same, placed as a guess: up is where the cameras' up is on the whole, the first one looks along -z
    from 1.6 m above the ground, and most points lie some metres away."""
    down = bundle.rotations[:, 1].mean(axis=0)
    up = -down / np.linalg.norm(down)
    back = -bundle.rotations[0, 2]
    back = back - up * (back @ up)
    back /= max(float(np.linalg.norm(back)), 1e-9)
    basis = np.stack([np.cross(up, back), up, back])
    scale = 1.0
    if kind == "moving":
        away = np.linalg.norm(bundle.points - bundle.centres.mean(axis=0), axis=1)
        scale = 6.0 / max(float(np.median(away)), 1e-9)
    else:
        scale = 6.0
    origin = bundle.centres[0]
    return replace(
        bundle,
        rotations=bundle.rotations @ basis.T,
        centres=(bundle.centres - origin) @ basis.T * scale + [0, 1.6, 0],
        points=(bundle.points - origin) @ basis.T * scale + [0, 1.6, 0],
    )
