"""Bitmaps to outlines: a level line of the picture, split at corners, fitted with cubic Béziers."""

from __future__ import annotations

import io
import json
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..colour import luminance
from ..sandbox import FileRefused, Unreadable, sandboxed
from .coverage import put_right
from .fit import fitted

Floats = NDArray[np.float64]

MAX_BYTES = 60_000_000
MAX_PIXELS = 80_000_000
WORK_SIDE = 2200
MAX_CONTOURS = 4000
# Pictures smaller than this are traced finer than their pixels, so many times at most.
FINE_SIDE, MOST_FINER = 1000, 4


@dataclass(frozen=True)
class TraceWish:
    """How a picture is traced.

    ``by`` alpha, lightness or colour; ``level`` 0..1 where the border runs; ``dark`` takes what lies
    below it; ``colour`` (sRGB, 0..1) for ``by`` colour; ``smooth`` in pixels; ``speckle``: areas smaller
    than this many pixels are left out; ``corner`` in degrees: sharper bends stay corners.
    """

    by: str = "lightness"
    level: float = 0.5
    dark: bool = True
    colour: tuple[float, float, float] = (0.0, 0.0, 0.0)
    smooth: float = 1.0
    speckle: float = 20.0
    corner: float = 50.0


def load_picture(data: bytes) -> bytes:
    """Read PNG, JPEG or WebP in a sandbox: an 8-bit RGBA picture as PNG, no larger than is traced."""
    if len(data) > MAX_BYTES:
        raise FileRefused(f"the picture is larger than {MAX_BYTES // 1_000_000} MB")
    return sandboxed(
        "dreizack.core.artwork.trace:read_picture", data, what="picture", seconds=20, megabytes=1200
    )


def read_picture(data: bytes) -> bytes:
    """In the sandbox."""
    # Loaded where they are used: the other readers should not wait for them.
    from PIL import Image

    if not (
        data[:8] == b"\x89PNG\r\n\x1a\n"
        or data[:3] == b"\xff\xd8\xff"
        or (data[:4] == b"RIFF" and data[8:12] == b"WEBP")
    ):
        raise Unreadable("this is no PNG, JPEG or WebP picture")
    Image.MAX_IMAGE_PIXELS = MAX_PIXELS
    try:
        with Image.open(io.BytesIO(data), formats=["PNG", "JPEG", "WEBP"]) as picture:
            if picture.width * picture.height > MAX_PIXELS:
                raise Unreadable(
                    f"the picture has more than {MAX_PIXELS // 1_000_000} million pixels; scale it down"
                )
            if min(picture.size) < 2:
                raise Unreadable("the picture is only a line; there is nothing to trace")
            picture.draft("RGB", (WORK_SIDE, WORK_SIDE))
            shown = picture.convert("RGBA")
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise Unreadable(
            f"the picture has more than {MAX_PIXELS // 1_000_000} million pixels; scale it down"
        ) from None
    except (OSError, SyntaxError, TypeError, KeyError, IndexError, OverflowError) as why:
        raise Unreadable("the picture is damaged or cut short; save it anew") from why
    shown.thumbnail((WORK_SIDE, WORK_SIDE), Image.Resampling.BOX)
    out = io.BytesIO()
    shown.save(out, "PNG", compress_level=1)
    return out.getvalue()


def trace(picture: bytes, wish: TraceWish) -> dict[str, Any]:
    """Trace a picture that :func:`load_picture` has read, in a sandbox.

    ``path``: path data in units of the traced shape's height, y up, its foot at 0; ``points``: how many;
    ``box``: where it lies in the picture (left, top, right, bottom, 0..1), for showing it over the picture.
    """
    found: dict[str, Any] = json.loads(
        sandboxed(
            "dreizack.core.artwork.trace:traced",
            picture,
            what="picture",
            seconds=20,
            megabytes=2500,
            wish=json.dumps(asdict(wish)),
        )
    )
    return found


def traced(data: bytes, wish: str) -> bytes:
    """In the sandbox."""
    import cv2

    told = json.loads(wish)
    picture: Any = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    return json.dumps(outlines(picture, TraceWish(**{**told, "colour": tuple(told["colour"])}))).encode()


def outlines(picture: NDArray[np.uint8], wish: TraceWish) -> dict[str, Any]:
    """Trace a picture (rows, columns, 4), BGRA as OpenCV has it."""
    import contourpy

    # Small pictures are looked at between their pixels, so that strokes a few of them wide have corners.
    finer = int(np.clip(round(FINE_SIDE / max(picture.shape[:2])), 1, MOST_FINER))
    values = _values(picture, wish)
    field = _field(values, wish, finer)
    height, width = field.shape
    # Beyond the picture there is nothing: shapes that touch its border are closed there.
    field = np.pad(field, 1, constant_values=-1.0)
    lines = contourpy.contour_generator(z=field, line_type=contourpy.LineType.Separate).lines(0.0)
    # Pixels have their middles at halves.
    rings = [np.asarray(line, np.float64) - 0.5 for line in lines if len(line) > 3]
    rings = [ring for ring in rings if abs(_area(ring)) >= max(wish.speckle, 1.0) * finer**2]
    if not rings:
        raise Unreadable(
            "nothing is left of the picture at these settings; move the level, or lower the speckle size"
        )
    if len(rings) > MAX_CONTOURS:
        raise Unreadable(
            f"the picture falls into more than {MAX_CONTOURS} shapes; raise the speckle size or smooth it"
        )
    exact = put_right([ring[:-1] / finer for ring in rings], values) if finer > 1 else None
    if exact is not None:
        rings = [ring * finer for ring in exact]
    points = np.concatenate(rings)
    low, high = points.min(axis=0), points.max(axis=0)
    size = float(high[1] - low[1]) or 1.0
    middle = (low[0] + high[0]) / 2
    steps, count = [], 0
    for ring in rings:
        curves = fitted(
            ring[:-1] if np.allclose(ring[0], ring[-1]) else ring,
            wish.corner,
            tolerance=(0.35 + 0.4 * wish.smooth) * (1.6 if finer > 1 else 1.0),
            bends=1.45 * (0.35 + 0.4 * wish.smooth) if exact is not None else None,
        )
        placed = (curves - [middle, high[1]]) / size * [1, -1]
        steps.append(_data(placed))
        count += len(curves)
    box = [float(low[0] / width), float(low[1] / height), float(high[0] / width), float(high[1] / height)]
    return {"path": "".join(steps), "points": count, "box": box, "aspect": width / height}


def _values(picture: NDArray[np.uint8], wish: TraceWish) -> Any:
    """What is above 0 inside (rows, columns), by pixels."""
    values = picture.astype(np.float32) / 255
    field: Any
    if wish.by == "alpha":
        field = values[..., 3] - wish.level
    else:
        if wish.by == "colour":
            away = np.linalg.norm(values[..., 2::-1] - np.asarray(wish.colour, np.float32), axis=2) / np.sqrt(
                3
            )
            field = wish.level - away
        else:
            light = luminance(values[..., 2::-1])
            field = wish.level - light if wish.dark else light - wish.level
        # What is transparent is not there.
        field = np.minimum(field, values[..., 3] - 0.5)
    return field


def _field(field: Any, wish: TraceWish, finer: int) -> Floats:
    """Values smoothed, with ``finer`` of them along a pixel."""
    import cv2

    if wish.smooth > 0:
        # Between pixels less is enough.
        sigma = wish.smooth * (0.5 if finer > 1 else 0.8)
        field = cv2.GaussianBlur(field, (0, 0), max(0.3, sigma), borderType=cv2.BORDER_REPLICATE)
    if finer > 1:
        around = cv2.copyMakeBorder(field, 2, 2, 2, 2, cv2.BORDER_REPLICATE)
        large = cv2.resize(around, None, fx=finer, fy=finer, interpolation=cv2.INTER_CUBIC)
        field = large[2 * finer : -2 * finer, 2 * finer : -2 * finer]
    # Exactly on the level there would be no side.
    return np.where(np.abs(field) < 1e-7, 1e-7, field).astype(np.float64)


def _area(ring: Floats) -> float:
    ahead = np.roll(ring, -1, axis=0)
    return float(np.sum(ring[:, 0] * ahead[:, 1] - ring[:, 1] * ahead[:, 0]) / 2)


def _data(curves: Floats) -> str:
    """Path data of closed cubics (n, 4, 2); straight ones become lines."""
    rounded = curves.round(5)
    steps = [f"M{rounded[0, 0, 0]:g} {rounded[0, 0, 1]:g}"]
    chord = curves[:, 3] - curves[:, 0]
    length = np.maximum(np.linalg.norm(chord, axis=1), 1e-12)
    bow = [
        np.abs(
            chord[:, 0] * (curves[:, i, 1] - curves[:, 0, 1])
            - chord[:, 1] * (curves[:, i, 0] - curves[:, 0, 0])
        )
        / length
        for i in (1, 2)
    ]
    straight = np.maximum(*bow) < 2e-4
    for (_, b, c, d), line in zip(rounded.tolist(), straight.tolist(), strict=True):
        steps.append(
            f"L{d[0]:g} {d[1]:g}" if line else f"C{b[0]:g} {b[1]:g} {c[0]:g} {c[1]:g} {d[0]:g} {d[1]:g}"
        )
    return "".join(steps) + "Z"
