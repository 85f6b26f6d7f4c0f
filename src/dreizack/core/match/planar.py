"""A flat area followed through footage: a homography a frame, always against what it looked like at first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from .alignment import Contradicts

Floats = NDArray[np.float64]
Grey = NDArray[np.uint8]

# Points inside the area that make the first guess, and how far they may be off it, in pixels.
POINTS, OFF = 160, 2.0
WINDOW, LEVELS = (21, 21), 4
# Few points or flat areas go by their pixels alone.
LEAST_POINTS = 8
# The refinement (Evangelidis & Psarakis, Parametric Image Alignment using Enhanced Correlation Coefficient
# Maximization, 2008): rounds, when it ends, and how much pictures are smoothed for it.
ROUNDS, STILL, SMOOTH = 60, 1e-6, 3
# What differs by so many times the usual is something that passes before the area.
PASSING, CONTRAST = 3.5, 0.12
# Below so much correlation the area is lost; below so much it is weak.
LOST, WEAK = 0.55, 0.85
# How firmly texture must hold the corners of an area, in pixels, when pixels differ by so many codes from one
# frame to the next; neighbours differ alike, which counts as so many pixels fewer.
FIRM, NOISE, LIKE_NEIGHBOURS, SMOOTHED = 0.5, 2.5, 16.0, 2.0
# From one frame to the next, an outline may change its size by so many times, and its form by such a share of
# its size or so many pixels: faster, it is not the area that is followed.
GROWS, BENDS, PIXELS = 1.25, 0.15, 3.0
# At least so much of the area must be in the picture, and be what it was.
SEEN = 0.25


class NoPatch(Contradicts):
    """Why an area cannot be followed; a sentence for whoever asked."""


@dataclass(frozen=True)
class _Kind:
    """How an area may move: what the refinement calls it, and which parameters of a plane's movement are
    free: moves along x and y, the rest of an affine map, perspective. ``smooth``: standard
    deviation in pixels over which pictures are evened out, as faint texture goes under in grain."""

    motion: int
    free: tuple[int, ...]
    smooth: float


# From the freest to the least.
_KINDS = (
    _Kind(cv2.MOTION_HOMOGRAPHY, (0, 1, 2, 3, 4, 5, 6, 7), 0.0),
    _Kind(cv2.MOTION_AFFINE, (0, 1, 2, 3, 4, 5), 1.5),
    _Kind(cv2.MOTION_TRANSLATION, (0, 1), 2.5),
)


@dataclass(frozen=True)
class Followed:
    """Where a flat area is: ``homographies`` (frames, 3, 3) lead from places at frame ``reference`` to
    places at each frame, in shares of the picture's width and height; ``alike`` (frames,) is how much it
    looks as it did, its correlation, 0 where it is lost; there the last sound homography is held.

    >>> still = Followed(0, np.tile(np.eye(3), (2, 1, 1)), np.ones(2))
    >>> still.carried(np.array([[0.25, 0.5]]), 0, np.array([0.5])).tolist()
    [[[0.25, 0.5]]]
    """

    reference: int
    homographies: Floats
    alike: Floats

    @property
    def frames(self) -> int:
        return len(self.homographies)

    def at(self, moments: Floats) -> Floats:
        """Homographies (n, 3, 3) at moments (n,), frames with fractions; held at the ends."""
        moments = np.clip(moments, 0, self.frames - 1)
        before = np.minimum(moments.astype(np.int64), max(self.frames - 2, 0))
        share = (moments - before)[:, None, None]
        after = np.minimum(before + 1, self.frames - 1)
        mixed: Floats = self.homographies[before] * (1 - share) + self.homographies[after] * share
        return mixed

    def carried(self, places: Floats, frame: float, moments: Floats) -> Floats:
        """Places (points, 2) as they are at ``frame``, carried to moments (n,): (n, points, 2)."""
        there = through(np.linalg.inv(self.at(np.array([frame], np.float64))[0]), places)
        return through(self.at(moments), there)


def through(homography: Floats, places: Floats) -> Floats:
    """Places (points, 2) through homographies (..., 3, 3): (..., points, 2) (Hartley & Zisserman, Multiple
    View Geometry, 2004, 2.3)."""
    made = np.concatenate([places, np.ones((*places.shape[:-1], 1))], axis=-1) @ np.swapaxes(
        homography, -1, -2
    )
    result: Floats = made[..., :2] / made[..., 2:]
    return result


def follow_plane(
    grey: Callable[[int], Grey],
    frames: int,
    reference: int,
    outline: Floats,
    told: Callable[[float], None] = lambda _: None,
) -> Followed:
    """Follow the area inside an ``outline`` (points, 2), shares of the picture at frame ``reference``, both
    ways through ``frames`` grey pictures (height, width) that ``grey`` answers by their number. ``told``
    hears how far it is, and may raise to stop. NoPatch says why it cannot be done."""
    first = grey(reference)
    height, width = first.shape
    pixels = outline * np.array([width, height]) - 0.5
    area = _Area.of(first, pixels)
    found = np.tile(np.eye(3), (frames, 1, 1))
    alike = np.zeros(frames)
    alike[reference] = 1.0
    done = 0
    for way in (1, -1):
        now, before = np.eye(3), first
        for frame in range(reference + way, frames if way > 0 else -1, way):
            picture = grey(frame)
            step, sure = area.found(before, picture, now)
            if sure < LOST or _jumps(through(now, pixels), through(step, pixels)):
                found[frame :: way if way > 0 else -1] = found[frame - way]
                break
            now, before = step, picture
            found[frame], alike[frame] = now, sure
            done += 1
            told(done / max(frames - 1, 1))
    # Middles of pixels are whole numbers here.
    to_pixels = np.array([[width, 0, -0.5], [0, height, -0.5], [0, 0, 1.0]])
    shares = np.linalg.inv(to_pixels) @ found @ to_pixels
    return Followed(reference, shares / shares[:, 2:, 2:], alike)


@dataclass(frozen=True)
class _Area:
    """What is followed: its ``template`` cut out of the first picture at ``corner``, which pixels of it count
    (``inside``), ``points`` (n, 2) in it, in pixels of the picture, and the ``kind`` of movement that its
    texture can tell: what it cannot would wander."""

    template: Grey
    inside: Grey
    corner: Floats
    points: Floats
    kind: _Kind

    @classmethod
    def of(cls, picture: Grey, outline: Floats) -> _Area:
        height, width = picture.shape
        low = np.floor(np.clip(outline.min(axis=0) - 2, 0, [width, height])).astype(int)
        high = np.ceil(np.clip(outline.max(axis=0) + 2, 0, [width, height])).astype(int)
        if (high - low).min() < 16:
            raise NoPatch("this area is too small to be followed, or outside the picture; draw a larger one")
        template = np.ascontiguousarray(picture[low[1] : high[1], low[0] : high[0]])
        inside = np.zeros_like(template)
        cv2.fillPoly(inside, [np.rint(outline - low).astype(np.int32)], 255)
        if float(template[inside > 0].std()) < 2.0:
            raise NoPatch("there is no texture in this area to hold on to; draw it larger, over an edge")
        loose = _loose_corners(template, inside, outline - low)
        firm = [kind for kind, off in zip(_KINDS, loose, strict=True) if off <= FIRM]
        if not firm:
            raise NoPatch(
                f"there is too little texture in this area: its corners could be {min(loose):.0f} pixels or "
                "more off without a sign of it; draw it larger, over edges that run several ways"
            )
        corners = cv2.goodFeaturesToTrack(template, POINTS, 0.01, 4, mask=inside, blockSize=5)
        points = np.zeros((0, 2)) if corners is None else corners[:, 0].astype(np.float64) + low
        return cls(_evened(template, firm[0]), inside, low.astype(np.float64), points, firm[0])

    @property
    def shift(self) -> Floats:
        """From pixels of the template to pixels of the picture."""
        return np.array([[1, 0, self.corner[0]], [0, 1, self.corner[1]], [0, 0, 1.0]])

    def found(self, before: Grey, picture: Grey, was: Floats) -> tuple[Floats, float]:
        """The homography (3, 3) to ``picture`` in pixels, and how much the area looks alike there, from the
        one ``was`` that led to the picture ``before``."""
        guess = self._by_points(before, picture, was)
        picture = _evened(picture, self.kind)
        candidates = [one for one in (guess, was) if one is not None]
        start = max(candidates, key=lambda one: self._alike(picture, one, self.inside))
        counts = self._what_counts(picture, start)
        warp = (start @ self.shift).astype(np.float32)
        warp /= warp[2, 2]
        rows = 3 if self.kind.motion == cv2.MOTION_HOMOGRAPHY else 2
        # It wants to know what counts as the picture has it.
        size = (picture.shape[1], picture.shape[0])
        mask = cv2.warpPerspective(counts, start @ self.shift, size, flags=cv2.INTER_NEAREST)
        rounds = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, ROUNDS, STILL)
        try:
            _, fine = cv2.findTransformECC(
                self.template, picture, warp[:rows], self.kind.motion, rounds, mask, SMOOTH
            )
        except cv2.error:
            return start, self._alike(picture, start, counts)
        refined = _whole(np.asarray(fine, np.float64)) @ np.linalg.inv(self.shift)
        refined /= refined[2, 2]
        better = self._alike(picture, refined, counts)
        rough = self._alike(picture, start, counts)
        return (refined, better) if better >= rough - 0.01 else (start, rough)

    def _by_points(self, before: Grey, picture: Grey, was: Floats) -> Floats | None:
        if len(self.points) < LEAST_POINTS:
            return None
        start = through(was, self.points).astype(np.float32)
        options: Any = {"winSize": WINDOW, "maxLevel": LEVELS}
        there, found, _ = cv2.calcOpticalFlowPyrLK(before, picture, start, start.copy(), **options)
        back, returned, _ = cv2.calcOpticalFlowPyrLK(picture, before, there, there.copy(), **options)
        sure = (found[:, 0] > 0) & (returned[:, 0] > 0) & (np.linalg.norm(back - start, axis=1) < 1)
        if sure.sum() < LEAST_POINTS:
            return None
        own, seen = self.points[sure], there[sure]
        if self.kind.motion == cv2.MOTION_TRANSLATION:
            away = np.median(seen - own, axis=0)
            on = np.linalg.norm(seen - own - away, axis=1) < OFF
            made = np.array([[1, 0, away[0]], [0, 1, away[1]]])
        elif self.kind.motion == cv2.MOTION_AFFINE:
            made, on = cv2.estimateAffine2D(own, seen, ransacReprojThreshold=OFF)
        else:
            made, on = cv2.findHomography(own, seen, cv2.RANSAC, OFF)
        if made is None or on.sum() < LEAST_POINTS or not np.isfinite(made).all():
            return None
        return _whole(np.asarray(made, np.float64))

    def _seen(self, picture: Grey, homography: Floats) -> tuple[Any, Any]:
        """The picture as the template saw it, and which of its pixels there are."""
        size = (self.template.shape[1], self.template.shape[0])
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        warp = homography @ self.shift
        seen = cv2.warpPerspective(picture, warp, size, flags=flags)
        there = cv2.warpPerspective(np.full_like(picture, 255), warp, size, flags=flags)
        return seen, there > 250

    def _alike(self, picture: Grey, homography: Floats, counts: Grey) -> float:
        """Correlation of what is there with the template, 0 where too little of it is in the picture."""
        seen, there = self._seen(picture, homography)
        use = there & (counts > 0)
        if use.sum() < SEEN * (self.inside > 0).sum():
            return 0.0
        a, b = self.template[use].astype(np.float64), seen[use].astype(np.float64)
        a, b = a - a.mean(), b - b.mean()
        size = float(np.sqrt((a @ a) * (b @ b)))
        return float(a @ b / size) if size > 1e-9 else 0.0

    def _what_counts(self, picture: Grey, homography: Floats) -> Grey:
        """Pixels of the area without those before which something passes."""
        seen, there = self._seen(picture, homography)
        use = there & (self.inside > 0)
        if use.sum() < 64:
            return self.inside
        a, b = self.template.astype(np.float64), seen.astype(np.float64)
        slope, offset = _gain(b[use], a[use])
        # Over a few pixels: what is a little off its place differs at its edges alone.
        left = cv2.GaussianBlur(np.abs(a - slope * b - offset) * use, (0, 0), 3) / np.maximum(
            cv2.GaussianBlur(use.astype(np.float64), (0, 0), 3), 1e-3
        )
        usual = max(float(np.median(left[use])), 1.5, CONTRAST * float(a[use].std()))
        passing = cv2.dilate((left > PASSING * usual).astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
        counts: Grey = np.where(use & ~passing, 255, 0).astype(np.uint8)
        return counts if (counts > 0).sum() > SEEN * (self.inside > 0).sum() else self.inside


def _evened(picture: Grey, kind: _Kind) -> Grey:
    if not kind.smooth:
        return picture
    return np.asarray(cv2.GaussianBlur(picture, (0, 0), kind.smooth), np.uint8)


def _whole(map_: Floats) -> Floats:
    """A map with its last row, which affine ones leave out."""
    return map_ if len(map_) == 3 else np.vstack([map_, [0.0, 0.0, 1.0]])


def _loose_corners(template: Grey, inside: Grey, outline: Floats) -> list[float]:
    """By how many pixels (standard deviation) the corners of an area may be off without showing it, for each
    kind of movement: from how its pixels would change (Baker & Matthews, Lucas-Kanade 20 Years On, 2004,
    section 3; covariance of least squares)."""
    smooth = cv2.GaussianBlur(template.astype(np.float32), (0, 0), SMOOTHED)
    across, down = (cv2.Scharr(smooth, cv2.CV_32F, *way)[inside > 0] / 32 for way in ((1, 0), (0, 1)))
    rows, columns = np.nonzero(inside)
    middle, size = (
        np.array([columns.mean(), rows.mean()]),
        max(float(np.ptp(columns)), float(np.ptp(rows)), 1.0) / 2,
    )
    moves = _shifts(np.stack([columns, rows], axis=1), middle, size)
    change = (across[:, None] * moves[:, 0] + down[:, None] * moves[:, 1]).astype(np.float64)
    # Of slopes, what noise alone has is no texture: that of white noise behind a Gaussian.
    alike = np.einsum("nik,nil->kl", moves, moves)
    known = change.T @ change - alike * NOISE**2 / (8 * np.pi * SMOOTHED**4)
    low, turned = np.linalg.eigh(known / (NOISE**2 * LIKE_NEIGHBOURS))
    known = turned @ np.diag(np.maximum(low, 1e-9)) @ turned.T
    at_corners = _shifts(outline, middle, size)
    found = []
    for kind in _KINDS:
        free = list(kind.free)
        spread = np.linalg.inv(known[np.ix_(free, free)])
        there = at_corners[:, :, free]
        square = np.einsum("nik,kl,nil->n", there, spread, there)
        found.append(float(np.sqrt(square.max())))
    return found


def _shifts(places: Floats, middle: Floats, size: float) -> Floats:
    """How places (n, 2) move (n, 2, 8) with each parameter of a plane's movement."""
    x, y = ((places - middle) / size).T
    one, nought = np.ones_like(x), np.zeros_like(x)
    along_x = np.stack([one, nought, x, y, nought, nought, x * x, x * y], axis=1)
    along_y = np.stack([nought, one, nought, nought, x, y, x * y, y * y], axis=1)
    return np.stack([along_x, along_y], axis=1)


def _jumps(was: Floats, now: Floats) -> bool:
    """Whether an outline (points, 2) changed from one frame to the next as no flat area does: by more than
    the similarity that fits it best (Umeyama, Least-squares estimation of transformation parameters between
    two point patterns, 1991, in the plane)."""
    before, after = (one @ np.array([1, 1j]) for one in (was, now))
    before, after = before - before.mean(), after - after.mean()
    power = float((abs(before) ** 2).sum())
    if not np.isfinite(after).all() or power == 0:
        return True
    turned = np.vdot(before, after) / power
    size = np.sqrt(abs(np.imag(np.conj(before) * np.roll(before, -1)).sum()) / 2)
    bent = float(abs(after - turned * before).max())
    return not 1 / GROWS < abs(turned) < GROWS or bent > max(PIXELS, BENDS * size)


def _gain(values: Floats, wanted: Floats) -> tuple[float, float]:
    """Slope and offset that make of most values (n,) what is wanted (n,): least squares, again and again
    without what fits worst."""
    kept = np.ones(len(values), np.bool_)
    slope, offset = 1.0, float(np.median(wanted - values))
    for _ in range(5):
        left = np.abs(slope * values + offset - wanted)
        kept = left <= np.quantile(left, 0.6)
        if float(np.ptp(values[kept])) < 1:
            break
        slope, offset = np.polyfit(values[kept], wanted[kept], 1)
    return float(slope), float(offset)
