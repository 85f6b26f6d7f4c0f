"""What people bring and keep: typefaces, drawn profiles."""

from __future__ import annotations

import asyncio
import json
import struct
from pathlib import Path as FilePath
from typing import Annotated, Literal

from fastapi import APIRouter, Path, Request
from pydantic import BaseModel, ConfigDict, Field, field_validator
from starlette.responses import FileResponse, Response

from ..core.artwork.meshes import bring_mesh as bring_object
from ..core.artwork.svg import read_svg
from ..core.artwork.trace import TraceWish, load_picture, trace
from ..core.clips import bring_clip, clip_facts
from ..core.document import Colour, Edge, Finish, Piece
from ..core.document.body import Share
from ..core.lettering import bring_file, known, sturdiness, typeface, typefaces
from ..core.library import find, keep
from ..core.light import load_panorama
from ..store import NotThere
from .names import SavedName
from .problems import PROBLEMS
from .services import Behind
from .uploads import reading, upload
from .vocabulary import TypefaceChoice, typeface_choice

router = APIRouter(tags=["library"], responses=PROBLEMS)
LIBRARY = "library"
FILE = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}
DRAWN = {
    "lip": [(0.0, 0.0), (0.02, 0.7), (0.35, 0.7), (0.4, 1.0), (1.0, 1.0)],
    "bead": Edge().drawn,
    "sweep": [(0.0, 0.0), (0.1, 0.6), (0.35, 0.88), (1.0, 1.0)],
}


class Profile(BaseModel):
    """A drawn profile: pairs (across, up) from the wall (0, 0) to the face (1, 1)."""

    name: str
    points: list[tuple[float, float]]


class ProfileWish(BaseModel):
    model_config = ConfigDict(extra="forbid")
    points: list[tuple[Share, Share]] = Field(min_length=2, max_length=32)

    @field_validator("points")
    @classmethod
    def rising(cls, points: list[tuple[float, float]]) -> list[tuple[float, float]]:
        return Edge.rising(points)


class SturdyTypeface(TypefaceChoice):
    """A typeface with what was measured: strokes and counters as shares of the cap height."""

    stem: float
    thin: float
    counter: float
    holds: bool


@router.get("/finishes/{name}/chip", response_class=Response)
async def chip(behind: Behind, request: Request, name: Annotated[str, Path(max_length=80)]) -> Response:
    """A finish of the library as the renderer shows it (JPEG)."""
    return await behind.chips.finish(name, request)


@router.get("/typefaces")
def listed(behind: Behind) -> list[SturdyTypeface]:
    """Every typeface, with how it holds up when extruded."""
    return [_measured(face.name) for face in typefaces()]


@router.post("/library/typefaces", status_code=201, openapi_extra=FILE)
async def bring(behind: Behind, request: Request) -> list[SturdyTypeface]:
    """Bring a font file: TTF, OTF, TTC, WOFF or WOFF2, variable ones too."""
    async with upload(request, behind.data) as file:
        return await reading(
            lambda: [_measured(face.name) for face in bring_file(file.read_bytes(), behind.data / LIBRARY)]
        )


@router.get("/typefaces/{name}/font", response_class=Response)
def font(name: str) -> Response:
    """The font file of a typeface, so that lists can show words in it."""
    if not known(name):
        raise NotThere("there is no typeface of this name; the list of typefaces has them all")
    return FileResponse(
        typeface(name).path, media_type="font/ttf", headers={"Cache-Control": "max-age=86400"}
    )


class MarkFile(BaseModel):
    """A drawing as the pieces and finishes of a mark, and what of it was left out."""

    pieces: list[Piece]
    finishes: list[Finish]
    left_out: list[str]
    points: int


class Picture(BaseModel):
    """A picture in the library, by the name its content gives it."""

    file: str
    width: int
    height: int


class Tracing(BaseModel):
    """How a picture is traced; lengths in pixels, ``level`` and ``colour`` (sRGB) from 0 to 1."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    by: Literal["alpha", "lightness", "colour"] = "lightness"
    level: float = Field(0.5, ge=0.01, le=0.99)
    dark: bool = True
    colour: tuple[Share, Share, Share] = (0.0, 0.0, 0.0)
    smooth: float = Field(1.0, ge=0, le=20)
    speckle: float = Field(20.0, ge=0, le=1_000_000)
    corner: float = Field(50.0, ge=5, le=175)


class Traced(BaseModel):
    """An outline in units of its height, y up; ``box``: left, top, right, bottom of it in the picture, 0 to
    1."""

    path: str
    points: int
    box: list[float]
    aspect: float


class MeshFile(BaseModel):
    """An object in the library: its file, its parts and their finishes, its size in its own units."""

    file: str
    parts: list[str]
    finishes: list[Finish]
    left_out: list[str]
    size: tuple[float, float, float]
    triangles: int


@router.post("/library/drawings", openapi_extra=FILE)
async def drawing(behind: Behind, request: Request) -> MarkFile:
    """Read an SVG as a mark; what it contains that gets no body is listed."""
    async with upload(request, behind.data) as file:
        found = await reading(lambda: read_svg(file.read_bytes()))
    finishes = [
        Finish(base_colour=Colour(r=r, g=g, b=b), metallic=0, roughness=0.4) for r, g, b in found.colours
    ]
    pieces = [Piece(name=piece.name, path=piece.path, finish=piece.colour) for piece in found.pieces]
    return MarkFile(pieces=pieces, finishes=finishes, left_out=found.left_out, points=found.points)


@router.post("/library/pictures", status_code=201, openapi_extra=FILE)
async def bring_picture(behind: Behind, request: Request) -> Picture:
    """Bring a picture (PNG, JPEG, WebP), to trace it or to put it on a sheet."""

    def read(file: FilePath) -> Picture:
        plain = load_picture(file.read_bytes())
        name = keep(behind.data / LIBRARY, plain, "png", "picture")
        width, height = struct.unpack(">II", plain[16:24])
        return Picture(file=name, width=width, height=height)

    async with upload(request, behind.data) as file:
        return await reading(read, file)


class PanoramaFile(BaseModel):
    """A panorama in the library, by the name its content gives it."""

    file: str


@router.post("/library/panoramas", status_code=201, openapi_extra=FILE)
async def bring_panorama(behind: Behind, request: Request) -> PanoramaFile:
    """Bring a panorama (HDR, EXR) or an ordinary picture that becomes one."""
    async with upload(request, behind.data) as file:
        kept = await reading(lambda: keep(behind.data / LIBRARY, load_panorama(file), "panorama", "panorama"))
    return PanoramaFile(file=kept)


class VideoFile(BaseModel):
    """A video in the library, by the name its content gives it."""

    file: str
    width: int
    height: int
    frames: int
    rate: float


@router.post("/library/videos", status_code=201, openapi_extra=FILE)
async def bring_video(behind: Behind, request: Request) -> VideoFile:
    """Bring a video (MP4, MOV, WebM and more); it is kept as a clip whose every frame is at hand."""
    async with upload(request, behind.data) as file:
        name = await reading(bring_clip, file, behind.data / LIBRARY)
    facts = await asyncio.to_thread(clip_facts, name)
    assert facts is not None, "a clip that was just kept is there"
    return VideoFile(
        file=name, width=facts.width, height=facts.height, frames=facts.frames, rate=float(facts.rate)
    )


@router.get("/library/pictures/{file}", response_class=Response)
def picture(file: str) -> Response:
    """A picture of the library."""
    return FileResponse(
        _kept(file, ".png"), media_type="image/png", headers={"Cache-Control": "max-age=86400"}
    )


@router.post("/library/pictures/{file}/trace")
def trace_picture(file: str, wish: Tracing) -> Traced:
    """Trace a picture's shapes to an outline."""
    return Traced(**trace(_kept(file, ".png").read_bytes(), TraceWish(**wish.model_dump())))


@router.post("/library/meshes", status_code=201, openapi_extra=FILE)
async def bring_mesh(
    behind: Behind, request: Request, kind: Literal["obj", "glb", "ply", "stl", "zip"]
) -> MeshFile:
    """Bring a 3D object: OBJ (with its MTL in a ZIP), GLB, PLY or STL."""
    async with upload(request, behind.data) as file:
        found = await reading(bring_object, file, kind, behind.data / LIBRARY)
    return MeshFile(
        file=found.file,
        parts=found.names,
        finishes=[Finish(**f) for f in found.finishes],
        left_out=found.left_out,
        size=found.size,
        triangles=found.triangles,
    )


def _kept(file: str, ending: str) -> FilePath:
    path = find(file) if file.endswith(ending) else None
    if path is None:
        raise NotThere("there is no such picture in the library; bring it again")
    return path


@router.get("/profiles")
def profiles(behind: Behind) -> list[Profile]:
    """Drawn profiles: some to start from, then those that were saved."""
    saved = [Profile(name=row["name"], points=row["points"]) for row in behind.store.rows("profile_list")]
    names = {profile.name for profile in saved}
    return [
        *(Profile(name=name, points=points) for name, points in DRAWN.items() if name not in names),
        *saved,
    ]


@router.put("/profiles/{name}", status_code=204)
def save_profile(behind: Behind, name: SavedName, wish: ProfileWish) -> None:
    """Save a drawn profile under a name."""
    behind.store.rows("profile_write", name=name, points=json.dumps(wish.points))


@router.delete("/profiles/{name}", status_code=204)
def forget_profile(behind: Behind, name: SavedName) -> None:
    """Forget a saved profile."""
    if behind.store.row("profile_delete", name=name) is None:
        raise NotThere("no profile of this name was saved")


def _measured(name: str) -> SturdyTypeface:
    face = typeface(name)
    found = sturdiness(name)
    return SturdyTypeface(
        **typeface_choice(face).model_dump(),
        stem=found.stem,
        thin=found.thin,
        counter=found.counter,
        holds=found.holds,
    )
