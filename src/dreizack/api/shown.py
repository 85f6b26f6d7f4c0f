"""The pictures the live view draws with: what is on surfaces, surroundings, backdrops, and tables of numbers
as pictures."""

from __future__ import annotations

from typing import Annotated, Any, Literal
from urllib.parse import urlencode
from uuid import UUID

import cv2
import numpy as np
from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.colour import linear_to_srgb, luminance, srgb_to_linear
from ..core.document import Sheet, resolve
from ..core.finish import BUMPS, bump_heights, fill_picture
from ..core.light import STUDIOS, SurroundingsState, around_picture
from ..core.media.finishing import finishing
from ..core.optics import LOW, SPAN, TRANSFORMS, Passes, cube, finished
from ..core.render import backdrop_picture
from ..core.scene import bake, frame_state, shown_picture, travels
from ..core.scene.form import surfaces
from ..store import NotThere
from ..store import shots as store
from .blocks import BLOCK, pack
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["scene"], responses=PROBLEMS)


class AroundWish(BaseModel):
    """Which surroundings; angles in degrees, tint scene-linear."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    source: Literal["made-up room", "picture", "video", "sky"] = "made-up room"
    room: str = Field("dusk", max_length=40)
    picture: str = Field("", max_length=200)
    haze: float = Field(3.0, ge=1.8, le=10)
    elevation: float = Field(0.0, ge=-90, le=90)
    azimuth: float = Field(0.0, ge=-36000, le=36000)
    red: float = Field(1.0, ge=0, le=1)
    green: float = Field(1.0, ge=0, le=1)
    blue: float = Field(1.0, ge=0, le=1)
    blur: float = Field(0.0, ge=0, le=90)
    frame: int = Field(0, ge=0, le=100_000)

    def query(self) -> str:
        return urlencode(self.model_dump(exclude_defaults=True))

    def around(self) -> SurroundingsState:
        tint = (self.red, self.green, self.blue)
        return SurroundingsState(
            self.source,
            self.room,
            self.picture,
            self.haze,
            (self.elevation, self.azimuth),
            tint,
            self.blur,
            self.frame,
        )


@router.get("/shots/{shot}/things/{thing}/fill", response_class=Response)
def fill(behind: Behind, shot: UUID, thing: str) -> Response:
    """What is on a sheet, as a picture (PNG, sRGB)."""
    sheet = store.read_shot(behind.store, shot).shot.things.get(thing)
    if not isinstance(sheet, Sheet):
        raise NotThere("there is no sheet of this name in the shot")
    base = sheet.finish.base_colour
    return Response(_png(fill_picture(sheet.fill, (base.r, base.g, base.b))), media_type="image/png")


@router.get("/shots/{shot}/things/{thing}/surfaces/{number}/picture", response_class=Response)
def surface_shown(
    behind: Behind, shot: UUID, thing: str, number: int, frame: Annotated[int, Query(ge=0, le=100_000)] = 0
) -> Response:
    """What is on a surface, as a picture (PNG, sRGB): a frame of a video, or what it is at a frame of the
    shot if it runs along outlines."""
    row = store.read_shot(behind.store, shot)
    if thing not in row.shot.bodied:
        raise NotThere("there is nothing of this name in the shot")
    pointers, _ = surfaces(row.shot.bodied[thing])
    picture = (
        resolve(row.shot.bodied[thing], pointers[number]).picture if 0 <= number < len(pointers) else None
    )
    if picture is None or picture.fill == "none":
        raise NotThere("there is no picture on this surface")
    title = bake(row.shot, np.array([float(frame) if travels(picture) else 0.0])).titles[thing]
    linear = shown_picture(picture, frame, title.texture_transform[0, number], behind.bodies, title.forms[0])
    # Numbers, not colours, are not bent for the eye.
    return Response(
        _png(linear) if picture.channel in ("base colour", "emission") else _png(_undone(linear)),
        media_type="image/png",
    )


def _undone(linear: np.ndarray[Any, Any]) -> np.ndarray[Any, Any]:
    """Values that :func:`_png` encodes as they are: its curve undone, of their luminance."""
    return srgb_to_linear(luminance(linear)[..., None].repeat(3, axis=2))


def _png(linear: np.ndarray[Any, Any]) -> bytes:
    """Scene-linear colours as an sRGB picture."""
    _, data = cv2.imencode(
        ".png",
        np.rint(np.clip(linear_to_srgb(linear), 0, 1)[..., ::-1] * 255).astype(np.uint8),
        [cv2.IMWRITE_PNG_COMPRESSION, 1],
    )
    return data.tobytes()


# A plate as it is shown live: so wide at most, its light divided by so much, as above white there is more.
PLATE_WIDTH, PLATE_WHITE = 1280, 2.5


@router.get("/shots/{shot}/plate/frame", response_class=Response)
def plate_shown(behind: Behind, shot: UUID, frame: Annotated[int, Query(ge=0, le=200_000)] = 0) -> Response:
    """The plate at a frame of the shot (JPEG, sRGB): its light over 2.5, as the live view takes it."""
    row = store.read_shot(behind.store, shot)
    if row.shot.backdrop.kind != "plate":
        raise NotThere("there is no plate behind this shot")
    width = min(PLATE_WIDTH, row.shot.format.width)
    height = max(16, round(width / row.shot.format.aspect))
    linear = np.broadcast_to(
        backdrop_picture(frame_state(row.shot, bake(row.shot, np.array([float(frame)])), 0), width, height),
        (height, width, 3),
    )
    codes = np.clip(linear_to_srgb((linear / PLATE_WHITE).astype(np.float32)), 0, 1)[..., ::-1]
    _, data = cv2.imencode(".jpg", np.rint(codes * 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, 93])
    return Response(data.tobytes(), media_type="image/jpeg", headers={"Cache-Control": "max-age=3600"})


@router.get("/shots/{shot}/plate/alone", response_class=Response)
def plate_alone(behind: Behind, shot: UUID, frame: Annotated[int, Query(ge=0, le=200_000)] = 0) -> Response:
    """The finished picture at a frame without anything that stands in the plate (JPEG, sRGB): what it is
    held against by eye."""
    row = store.read_shot(behind.store, shot)
    if row.shot.backdrop.kind != "plate":
        raise NotThere("there is no plate behind this shot")
    width = min(PLATE_WIDTH, row.shot.format.width)
    height = max(16, round(width / row.shot.format.aspect))
    last = row.shot.format.frames - 1
    state = frame_state(row.shot, bake(row.shot, np.array([float(min(frame, last))])), 0)
    nothing = np.zeros((height, width, 4), np.float32)
    shown = finished(Passes(nothing), finishing(state, (width, height)))
    _, data = cv2.imencode(".jpg", shown[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 93])
    return Response(data.tobytes(), media_type="image/jpeg", headers={"Cache-Control": "no-cache"})


@router.get("/shots/{shot}/backdrop", response_class=Response)
def backdrop(behind: Behind, shot: UUID, frame: Annotated[int, Query(ge=0, le=200_000)] = 0) -> Response:
    """The picture behind everything at a frame, filling it (PNG, sRGB)."""
    row = store.read_shot(behind.store, shot)
    width = 1280
    height = max(16, round(width / row.shot.format.aspect))
    linear = np.broadcast_to(
        backdrop_picture(frame_state(row.shot, bake(row.shot, np.array([float(frame)])), 0), width, height),
        (height, width, 3),
    )
    return Response(_png(linear), media_type="image/png")


@router.get("/surroundings", response_class=Response)
def surroundings(wish: Annotated[AroundWish, Query()]) -> Response:
    """Surroundings as a block: ``picture`` (rows, columns, 3), scene-linear, zenith first."""
    if wish.source == "made-up room" and wish.room not in STUDIOS:
        raise NotThere(f"there is no room of this name; choose {', '.join(STUDIOS)}")
    picture = around_picture(wish.around())
    return Response(
        pack({}, {"picture": picture}), media_type=BLOCK, headers={"Cache-Control": "max-age=86400"}
    )


@router.get("/view-transforms/{name}", response_class=Response)
def view_transform(name: str) -> Response:
    """A view transform as a cube: ``lut`` (33, 33, 33, 3), display values by red, green and blue behind a
    logarithm."""
    if name not in TRANSFORMS:
        raise NotThere(f"there is no view transform of this name; choose {', '.join(TRANSFORMS)}")
    return Response(
        pack({"low": LOW, "span": SPAN}, {"lut": cube(name, 33)}),
        media_type=BLOCK,
        headers={"Cache-Control": "max-age=86400"},
    )


@router.get("/bumps/{kind}", response_class=Response)
def bump(kind: str) -> Response:
    """A fine relief as a picture of heights that repeats (PNG, 8 bit)."""
    if kind not in BUMPS:
        raise NotThere(f"there is no bump of this name; choose {', '.join(BUMPS)}")
    _, data = cv2.imencode(".png", np.rint(bump_heights(kind) * 255).astype(np.uint8))
    return Response(data.tobytes(), media_type="image/png", headers={"Cache-Control": "max-age=86400"})
