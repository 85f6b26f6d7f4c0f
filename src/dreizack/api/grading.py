"""Tables of colours brought and taken away, curves and tables as the live view draws with them, and graphs of
what is in a picture."""

from __future__ import annotations

import asyncio
import re
from pathlib import Path
from typing import Annotated, Literal
from uuid import UUID

import cv2
import numpy as np
from fastapi import APIRouter, Query, Request
from pydantic import BaseModel
from starlette.responses import Response

from ..core.document import MAX_FRAMES, Shot
from ..core.library import keep
from ..core.media.finishing import finishing
from ..core.optics import (
    Tones,
    grade_lattice,
    histogram,
    read_cube,
    targets,
    tone_lattices,
    vectorscope,
    waveform,
    write_cube,
)
from ..core.scene import Baked, bake, frame_state
from ..store import NotThere
from ..store import shots as store
from .blocks import BLOCK, pack
from .library import FILE, LIBRARY
from .problems import PROBLEMS, problem
from .services import Behind
from .uploads import reading, upload

router = APIRouter(tags=["looks"], responses=PROBLEMS)

# A picture whose graphs are asked for has at most so many pixels.
MOST_PIXELS = 640 * 640
RAW = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}


class TableFile(BaseModel):
    """A table of colours in the library, by the name its content gives it; its steps along a side."""

    file: str
    steps: int


class ScopeTarget(BaseModel):
    """Where a full colour of bars lies in a vectorscope, from 0 to 1 from the left and the top."""

    name: str
    x: float
    y: float


@router.post("/library/tables", status_code=201, openapi_extra=FILE)
async def bring_table(behind: Behind, request: Request) -> TableFile:
    """Bring a table of colours (.cube); a damaged one is refused with its line."""

    def read(file: Path) -> TableFile:
        data = file.read_bytes()
        found = read_cube(data)
        return TableFile(file=keep(behind.data / LIBRARY, data, "cube", "table"), steps=len(found.values))

    async with upload(request, behind.data) as file:
        return await reading(read, file)


@router.get("/shots/{shot}/tones", response_class=Response)
def tones(behind: Behind, shot: UUID) -> Response:
    """Curves and table of a shot's grade as lattices over codes of a logarithm (ACEScct): ``curves`` and
    ``table`` (side, side, side, 3), as far as they do anything."""
    found, baked = _baked(behind, shot, 0)
    state = frame_state(found, baked, 0)
    lattices = tone_lattices(Tones(*state.tones), state.view) if state.tones is not None else (None, None)
    arrays = {
        name: lattice
        for name, lattice in zip(("curves", "table"), lattices, strict=True)
        if lattice is not None
    }
    return Response(pack({}, arrays), media_type=BLOCK, headers={"Cache-Control": "max-age=3600"})


@router.get("/shots/{shot}/grade.cube", response_class=Response)
def export_table(
    behind: Behind, shot: UUID, frame: Annotated[int, Query(ge=0, le=MAX_FRAMES)] = 0
) -> Response:
    """The whole grade at a frame as a table for shown colours (.cube)."""
    found, baked = _baked(behind, shot, frame)
    settings = finishing(frame_state(found, baked, 0), (16, 16))
    name = re.sub(r"[^A-Za-z0-9]+", "-", found.name).strip("-").lower() or "shot"
    headers = {"Content-Disposition": f'attachment; filename="{name}.cube"'}
    return Response(write_cube(grade_lattice(settings), found.name), media_type="text/plain", headers=headers)


@router.post("/scopes", response_class=Response, openapi_extra=RAW)
async def scope(
    request: Request,
    what: Literal["waveform", "channels", "histogram", "vectorscope"],
    width: Annotated[int, Query(ge=1, le=2048)],
    height: Annotated[int, Query(ge=1, le=2048)],
    across: Annotated[int, Query(ge=16, le=1024)] = 256,
    down: Annotated[int, Query(ge=16, le=1024)] = 120,
) -> Response:
    """A graph (PNG, ``across`` × ``down``) of what is in a picture: its codes R, G, B row by row."""
    data = await request.body()
    if width * height > MOST_PIXELS:
        return problem(422, "The picture is too large", f"graphs are made of {MOST_PIXELS} pixels at most")
    if len(data) != width * height * 3:
        return problem(
            422,
            "This is no picture",
            f"{width} × {height} pixels are {width * height * 3} bytes, not {len(data)}",
        )
    picture = np.frombuffer(data, np.uint8).reshape(height, width, 3)

    def drawn() -> bytes:
        if what == "histogram":
            graph = histogram(picture, across, down)
        elif what == "vectorscope":
            graph = vectorscope(picture, min(across, down))
        else:
            graph = waveform(picture, across, down, apart=what == "channels")
        _, made = cv2.imencode(".png", graph[..., ::-1], [cv2.IMWRITE_PNG_COMPRESSION, 1])
        return made.tobytes()

    return Response(await asyncio.to_thread(drawn), media_type="image/png")


@router.get("/scopes/targets")
def scope_targets() -> list[ScopeTarget]:
    """Where the colours of bars lie in a vectorscope."""
    return [ScopeTarget(name=name, x=x, y=y) for name, x, y in targets()]


def _baked(behind: Behind, shot: UUID, frame: int) -> tuple[Shot, Baked]:
    found = store.read_shot(behind.store, shot).shot
    if frame >= found.format.frames:
        raise NotThere(f"the shot has {found.format.frames} frames")
    return found, bake(found, np.array([float(frame)]))
