"""Frames of a sequence to look at: put together from those of its shots, which are kept by content."""

from __future__ import annotations

import asyncio
import itertools
from uuid import UUID

import cv2
import numpy as np
from fastapi import Request
from numpy.typing import NDArray
from starlette.responses import Response

from ..core.colour import from_display
from ..core.document import Backdrop, Colour, Shot
from ..core.media.picture import FramePicture
from ..core.optics import Alone
from ..core.scene import frame_names
from ..core.sequence import Bundle, Layout, Moment, Showing
from ..core.sequence.reel import composed, plain_picture
from ..core.sequence.shots import SeenShots, seen_shots
from ..store.view_cache import view_key
from .problems import problem
from .services import Behind
from .stills import traced_picture, while_awaited

Floats = NDArray[np.float32]

# Samples of a picture that is traced to be looked at in a sequence.
SAMPLES = 4
# A colour that no view transform bends, behind titles that are needed alone.
GREY = 0.25
_numbers = itertools.count(1)


async def sequence_frame(
    behind: Behind,
    request: Request,
    sequence: UUID,
    bundle: Bundle,
    frame: int,
    width: int,
    only_kept: bool,
    aside: bool,
) -> Response:
    """A frame (JPEG)."""
    size = looked_at_size(bundle, width)
    moment = Layout(bundle.sequence).at(frame)
    parts = [*moment.line, *moment.over]
    shots = seen_shots(bundle)
    wanted = await asyncio.to_thread(
        lambda: [one for showing in parts for one in _needed(shots, moment, showing, size)]
    )
    keys = await asyncio.to_thread(lambda: [_key(shot, at, whole) for shot, at, whole in wanted])
    if only_kept and not all(behind.kept_views.there(keys)):
        return problem(404, "Not kept", "this frame is not ready; it is traced when it is looked at")
    found: list[bytes] = []
    for (shot, at, whole), key in zip(wanted, keys, strict=True):
        data = await asyncio.to_thread(behind.kept_views.get, key)
        if data is None:
            viewer = f"sequence {sequence} {next(_numbers)}"
            work = traced_picture(behind.views, viewer, shot.model_dump_json(), at, whole, SAMPLES, aside)
            data = await while_awaited(request, work)
        if data is None:
            return problem(404, "Not ready", "the picture was not made in time; ask again")
        found.append(data)
    data = await asyncio.to_thread(_put_together, frame, moment, found, bundle, size)
    return Response(data, media_type="image/jpeg", headers={"Cache-Control": "no-cache"})


def _needed(
    shots: SeenShots, moment: Moment, showing: Showing, size: tuple[int, int]
) -> list[tuple[Shot, int, tuple[int, int]]]:
    """Pictures, and how large they have to be, that a piece is put together from: its own, and where titles
    are needed alone, what they are over black and over grey."""
    if showing.piece.kind != "shot":
        return []
    shot, at = shots.at(showing, moment), shown_frame(shots.bundle, showing)
    part = shots.part(showing.piece.shot, size)
    whole = part.whole if part is not None else size
    if showing in moment.over:
        return [(_before(shot, 0.0), at, whole), (_before(shot, GREY), at, whole)]
    letters = moment.transition is not None and moment.transition.kind == "letters"
    if letters and showing == moment.line[0]:
        bare = _without_catchers(shot)
        return [(shot, at, whole), (_before(bare, 0.0), at, whole), (_before(bare, GREY), at, whole)]
    return [(shot, at, whole)]


def _without_catchers(shot: Shot) -> Shot:
    """The shot without what takes shadows: letters alone are needed."""
    made = shot.model_copy(deep=True)
    for thing in made.bodied.values():
        if thing.visibility.catches:
            for what in ("camera", "reflections", "casts", "catches"):
                setattr(thing.visibility, what, False)
    return made


def _before(shot: Shot, grey: float) -> Shot:
    """The shot before one colour."""
    made = shot.model_copy(deep=True)
    made.backdrop = Backdrop(kind="colour", colour=Colour(r=grey, g=grey, b=grey))
    for moves in (made.channels, made.drifts, made.couplings, made.changes):
        for pointer in [one for one in moves if one.startswith("/backdrop")]:
            del moves[pointer]
    return made


def kept_frames(behind: Behind, bundle: Bundle, width: int) -> list[tuple[int, int]]:
    """Runs of frames of which every picture is there."""
    size, layout = looked_at_size(bundle, width), Layout(bundle.sequence)
    moments = [layout.at(frame) for frame in range(layout.total)]
    shots = seen_shots(bundle)
    # By shot as it is seen there, the frames of it that are needed.
    seen: dict[int, tuple[Shot, set[int]]] = {}
    needed: list[list[tuple[int, int]]] = []
    names: dict[int, str] = {}
    for moment in moments:
        needed.append([])
        for showing in (*moment.line, *moment.over):
            if showing.piece.kind == "shot":
                shot, at = shots.at(showing, moment), shown_frame(bundle, showing)
                seen.setdefault(id(shot), (shot, set()))[1].add(at)
                needed[-1].append((id(shot), at))
                names[id(shot)] = showing.piece.shot
    there: dict[tuple[int, int], bool] = {}
    for number, (shot, frames) in seen.items():
        order = sorted(frames)
        part = shots.part(names[number], size)
        whole = part.whole if part is not None else size
        called = frame_names(shot, np.array(order, dtype=np.float64))
        keys = [view_key(one, *whole, SAMPLES) for one in called]
        there |= {(number, at): kept for at, kept in zip(order, behind.kept_views.there(keys), strict=True)}
    ready = [all(there[one] for one in of) for of in needed]
    edges = np.flatnonzero(np.diff(np.array([False, *ready, False]).astype(np.int8)))
    return [(int(a), int(b) - 1) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def looked_at_size(bundle: Bundle, width: int) -> tuple[int, int]:
    """Width and height of pictures to look at, even: ``width`` is the longer side."""
    sequence = bundle.sequence
    share = width / max(sequence.width, sequence.height)
    across, down = (max(16, round(side * share / 2) * 2) for side in (sequence.width, sequence.height))
    return across, down


def shown_frame(bundle: Bundle, showing: Showing) -> int:
    """The whole frame of its shot that is looked at."""
    last = bundle.shots[showing.piece.shot].format.frames - 1
    return min(last, int(showing.frame + 0.5))


def _key(shot: Shot, at: int, size: tuple[int, int]) -> str:
    return view_key(frame_names(shot, np.array([float(at)]))[0], *size, SAMPLES)


def _put_together(
    frame: int, moment: Moment, found: list[bytes], bundle: Bundle, size: tuple[int, int]
) -> bytes:
    """A JPEG of the frame. A single picture is sent as it is; others are mixed in the light they show."""
    pictures, shots = iter(found), seen_shots(bundle)
    alone = len(found) == 1 and len(moment.line) == 1 and not moment.over
    if alone and shots.part(moment.line[0].piece.shot, size) is None:
        return found[0]

    def of(showing: Showing) -> FramePicture:
        if showing.piece.kind != "shot":
            return plain_picture(showing.piece, size)
        shot = bundle.shots[showing.piece.shot]
        needed, part = _needed(shots, moment, showing, size), shots.part(showing.piece.shot, size)
        lights = [_looked_at(next(pictures), shot.camera.view, whole) for *_, whole in needed]
        if part is not None:
            lights = [part.of(light) for light in lights]
        grey = GREY * 2.0**shot.camera.exposure
        return FramePicture(
            0, lambda: lights[0], lambda: matted(lights[-2], lights[-1], grey), shot.camera.view, True
        )

    line = [of(showing) for showing in moment.line]
    over = [(of(showing), showing.share) for showing in moment.over]
    shown = composed(frame, moment, line, over, size).eight
    _, data = cv2.imencode(".jpg", shown[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 90])
    return data.tobytes()


def _looked_at(data: bytes, view: str, size: tuple[int, int]) -> Floats:
    """Light (height, width, 3) that a finished picture shows."""
    decoded = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
    shown = np.asarray(decoded if decoded is not None else np.zeros((size[1], size[0], 3)), np.uint8)
    if shown.shape[:2] != (size[1], size[0]):
        shown = np.asarray(cv2.resize(shown, size, interpolation=cv2.INTER_AREA), np.uint8)
    return from_display((shown[..., ::-1] / np.float32(255)).astype(np.float32), view)


def matted(over_black: Floats, over_grey: Floats, grey: float) -> Alone:
    """Titles without what is behind them, from pictures over two colours (Smith & Blinn, Blue Screen Matting,
    1996, 4.3: triangulation)."""
    left = np.clip((over_grey - over_black).mean(axis=2, keepdims=True) / np.float32(grey), 0, 1)
    coverage = np.repeat(1 - left, 3, axis=2).astype(np.float32)
    nothing = np.zeros_like(over_black)
    return Alone(over_black, coverage, nothing, nothing[..., :1])
