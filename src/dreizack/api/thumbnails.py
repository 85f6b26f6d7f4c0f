"""Small pictures of rooms, and of what was brought, to choose by."""

from __future__ import annotations

from typing import Annotated

import cv2
import numpy as np
from fastapi import APIRouter, Path
from numpy.typing import NDArray
from starlette.responses import Response

from ..core.clips import clip_frame
from ..core.colour import luminance
from ..core.light import STUDIOS, SurroundingsState, around_picture
from ..core.optics import to_display
from ..core.render import picture_light
from ..store import NotThere
from .problems import PROBLEMS

router = APIRouter(tags=["library"], responses=PROBLEMS)

WIDE = 192
# Light that half of a panorama is below comes out as bright as this.
MIDDLE = 0.16


@router.get("/rooms/{name}/picture", response_class=Response)
def room(name: Annotated[str, Path(max_length=40)]) -> Response:
    """What is all around in a made-up room (JPEG)."""
    if name not in STUDIOS:
        raise NotThere(f"there is no room of this name; choose {', '.join(STUDIOS)}")
    return _small(_evenly_lit(around_picture(SurroundingsState(studio=name))))


@router.get("/library/thumbnails/{file}", response_class=Response)
def brought(file: Annotated[str, Path(max_length=120)]) -> Response:
    """A picture, a panorama or the first frame of a video of the library, small (JPEG)."""
    kind = file.rpartition(".")[2]
    light: NDArray[np.floating] | None = None
    if kind == "panorama":
        light = _evenly_lit(around_picture(SurroundingsState(source="picture", picture=file)))
    elif kind == "clip":
        light = clip_frame(file, 0)
    elif kind == "png":
        light = picture_light(file)
    if light is None:
        raise NotThere("there is no such picture in the library")
    return _small(light)


def _evenly_lit(light: NDArray[np.floating]) -> NDArray[np.floating]:
    level = float(np.median(luminance(light)))
    found: NDArray[np.floating] = light * min(MIDDLE / max(level, 1e-4), 64.0)
    return found


def _small(light: NDArray[np.floating]) -> Response:
    rows = max(1, round(light.shape[0] * WIDE / light.shape[1]))
    small = cv2.resize(np.asarray(light, np.float32), (WIDE, rows), interpolation=cv2.INTER_AREA)
    shown = to_display(small.astype(np.float32), "shoulder")
    _, data = cv2.imencode(".jpg", shown[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 88])
    return Response(data.tobytes(), media_type="image/jpeg", headers={"Cache-Control": "max-age=86400"})
