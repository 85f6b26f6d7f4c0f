"""Points are found and followed from frame to frame, each against what it looked like at first."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from .patches import RADIUS, Templates, aligned, finer, templates
from .tracks import Tracks

Grey = NDArray[np.uint8]
Floats = NDArray[np.float32]

# Points are looked for cell by cell, so that they lie everywhere.
CELLS, POINTS, APART, QUALITY = (8, 5), 900, 12, 0.004
# The first guess (Bouguet, Pyramidal Implementation of the Lucas Kanade Feature Tracker, 2001).
WINDOW, LEVELS, THERE_AND_BACK = (21, 21), 4, 0.6
# A piece must look so much like its template, and is taken anew once it is so much smaller or larger.
ALIKE, SMALLER, LARGER = 0.9, 0.7, 1.45


@dataclass
class _Followed:
    """Points that are followed now."""

    number: NDArray[np.int64]
    xy: Floats
    speed: Floats
    warp: Floats
    of: Templates

    def only(self, keep: NDArray[np.bool_]) -> _Followed:
        return _Followed(
            self.number[keep], self.xy[keep], self.speed[keep], self.warp[keep], self.of.only(keep)
        )


def follow(
    pictures: Iterable[Grey],
    masks: Callable[[int], NDArray[np.bool_] | None] = lambda _: None,
    told: Callable[[int], None] = lambda _: None,
) -> Tracks:
    """Tracks through grey pictures (height, width). ``masks`` says what of a frame is left out (height,
    width); ``told`` hears after each frame, and may raise to stop."""
    rows: list[tuple[NDArray[np.int64], int, Floats]] = []
    now, before, made = None, None, 0
    for frame, picture in enumerate(pictures):
        fine = finer(picture)
        if now is not None and before is not None:
            now = _followed(now, before, picture, fine)
        masked = masks(frame)
        if now is not None and masked is not None and len(now.xy):
            column, row = np.clip(now.xy.astype(int), 0, np.array(masked.shape)[::-1] - 1).T
            now = now.only(~masked[row, column])
        fresh = _corners(picture, now.xy if now is not None else np.zeros((0, 2), np.float32), masked)
        more = _Followed(
            np.arange(made, made + len(fresh)),
            fresh,
            np.zeros_like(fresh),
            np.tile(np.eye(2, dtype=np.float32), (len(fresh), 1, 1)),
            templates(fine, fresh),
        )
        made += len(fresh)
        now = more if now is None else _joined(now, more)
        rows.append((now.number, frame, now.xy.copy()))
        before = picture
        told(frame)
    if not rows:
        return Tracks(np.zeros(0, np.int64), np.zeros(0, np.int64), np.zeros((0, 2)))
    return Tracks(
        np.concatenate([number for number, _, _ in rows]),
        np.concatenate([np.full(len(number), frame) for number, frame, _ in rows]),
        np.concatenate([xy for _, _, xy in rows]).astype(np.float64),
    )


def _joined(a: _Followed, b: _Followed) -> _Followed:
    return _Followed(
        np.concatenate([a.number, b.number]),
        np.concatenate([a.xy, b.xy]),
        np.concatenate([a.speed, b.speed]),
        np.concatenate([a.warp, b.warp]),
        a.of.and_these(b.of),
    )


def _followed(now: _Followed, before: Grey, picture: Grey, fine: Floats) -> _Followed:
    """The same points in the next picture; those that are lost are gone."""
    if not len(now.xy):
        return now
    # The look-up of the first guess counts from the middles of pixels.
    start = now.xy - 0.5
    options: Any = {"winSize": WINDOW, "maxLevel": LEVELS, "flags": cv2.OPTFLOW_USE_INITIAL_FLOW}
    there, found, _ = cv2.calcOpticalFlowPyrLK(before, picture, start, start + now.speed, **options)
    back, returned, _ = cv2.calcOpticalFlowPyrLK(picture, before, there, start.copy(), **options)
    sure = (found[:, 0] > 0) & (returned[:, 0] > 0)
    sure &= np.linalg.norm(back - start, axis=1) < THERE_AND_BACK
    now, guess = now.only(sure), there[sure] + 0.5
    if not len(now.xy):
        return now
    xy, warp, alike = aligned(fine, now.of, guess, now.warp)
    height, width = picture.shape
    inside = (xy > RADIUS).all(axis=1) & (xy < np.array([width, height]) - RADIUS).all(axis=1)
    good = inside & (alike > ALIKE) & (np.linalg.norm(xy - guess, axis=1) < 2)
    now = now.only(good)
    now.speed, now.xy, now.warp = xy[good] - now.xy, xy[good], warp[good]
    size = np.sqrt(np.abs(np.linalg.det(now.warp))) if len(now.xy) else np.zeros(0)
    anew = (size < SMALLER) | (size > LARGER)
    if anew.any():
        taken = templates(fine, now.xy[anew])
        now.of.values[anew], now.of.solves[anew] = taken.values, taken.solves
        now.warp[anew] = np.eye(2)
    return now


def _corners(picture: Grey, taken: Floats, masked: NDArray[np.bool_] | None) -> Floats:
    """Corners (n, 2) where few points are followed yet."""
    height, width = picture.shape
    columns, rows = CELLS
    each = POINTS // (columns * rows)
    room = np.full((height, width), 255, np.uint8)
    edge = RADIUS + 2
    room[:edge], room[-edge:], room[:, :edge], room[:, -edge:] = 0, 0, 0, 0
    if masked is not None:
        room[masked] = 0
    for x, y in taken.astype(int):
        cv2.circle(room, (int(x), int(y)), APART, 0, -1)
    xs, ys = (
        np.linspace(0, size, parts + 1).astype(int) for size, parts in ((width, columns), (height, rows))
    )
    there = (
        np.histogram2d(taken[:, 1], taken[:, 0], bins=(ys, xs))[0]
        if len(taken)
        else np.zeros((rows, columns))
    )
    best = cv2.cornerMinEigenVal(picture, 5)
    least = QUALITY * float(best.max())
    found = []
    for row in range(rows):
        for column in range(columns):
            lack = each - int(there[row, column])
            if lack <= each // 4:
                continue
            cell = np.s_[ys[row] : ys[row + 1], xs[column] : xs[column + 1]]
            got = cv2.goodFeaturesToTrack(picture[cell], lack, QUALITY, APART, mask=room[cell], blockSize=5)
            if got is None:
                continue
            at = got[:, 0] + np.array([xs[column], ys[row]], np.float32)
            found.append(at[best[at[:, 1].astype(int), at[:, 0].astype(int)] > least])
    return (np.concatenate(found) + 0.5).astype(np.float32) if found else np.zeros((0, 2), np.float32)


def follow_one(
    picture: Callable[[int], Grey],
    frames: int,
    begin: int,
    xy: Floats,
    told: Callable[[float], None] = lambda _: None,
) -> Tracks:
    """The track, number 0, of a point ``xy`` (2,) of the picture ``begin``, followed from there in both
    directions until it is lost; ``picture`` gives the grey frame of a number, ``told`` hears which share is
    done."""
    times: list[int] = [begin]
    places: list[Floats] = [np.asarray(xy, np.float32)[None]]
    for step in (1, -1):
        before = picture(begin)
        now = _Followed(
            np.zeros(1, np.int64),
            places[0].copy(),
            np.zeros((1, 2), np.float32),
            np.eye(2, dtype=np.float32)[None],
            templates(finer(before), places[0]),
        )
        number = begin + step
        while 0 <= number < frames:
            here = picture(number)
            now = _followed(now, before, here, finer(here))
            if not len(now.xy):
                break
            times.append(number)
            places.append(now.xy.copy())
            told((abs(number - begin) + (frames - 1 - begin if step < 0 else 0)) / frames)
            before, number = here, number + step
    return Tracks(
        np.zeros(len(times), np.int64), np.array(times, np.int64), np.concatenate(places).astype(np.float64)
    )
