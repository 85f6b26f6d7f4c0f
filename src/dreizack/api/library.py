"""What people bring and keep: typefaces, drawn profiles."""

from __future__ import annotations

import asyncio
import json

from fastapi import APIRouter, Path, Request
from pydantic import BaseModel, ConfigDict, Field, field_validator
from starlette.responses import FileResponse, Response

from ..core.document import Edge
from ..core.document.body import Share
from ..core.lettering import bring_file, known, sturdiness, typeface, typefaces
from ..store import NotThere
from .problems import PROBLEMS
from .services import Behind
from .vocabulary import TypefaceChoice, typeface_choice

router = APIRouter(tags=["library"], responses=PROBLEMS)
LIBRARY = "library"
FILE = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}}
DRAWN = {"lip": [(0.0, 0.0), (0.02, 0.7), (0.35, 0.7), (0.4, 1.0), (1.0, 1.0)], "bead": Edge().drawn, "sweep": [(0.0, 0.0), (0.1, 0.6), (0.35, 0.88), (1.0, 1.0)]}


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


@router.get("/typefaces")
def listed(behind: Behind) -> list[SturdyTypeface]:
    """Every typeface, with how it holds up when extruded."""
    return [_measured(face.name) for face in typefaces()]


@router.post("/library/typefaces", status_code=201, openapi_extra=FILE)
async def bring(behind: Behind, request: Request) -> list[SturdyTypeface]:
    """Bring a font file: TTF, OTF, TTC, WOFF or WOFF2, variable ones too."""
    data = await request.body()
    return await asyncio.to_thread(lambda: [_measured(face.name) for face in bring_file(data, behind.data / LIBRARY)])


@router.get("/typefaces/{name}/font", response_class=Response)
def font(name: str) -> Response:
    """The font file of a typeface, so that lists can show words in it."""
    if not known(name):
        raise NotThere("there is no typeface of this name; the list of typefaces has them all")
    return FileResponse(typeface(name).path, media_type="font/ttf", headers={"Cache-Control": "max-age=86400"})


@router.get("/profiles")
def profiles(behind: Behind) -> list[Profile]:
    """Drawn profiles: some to start from, then those that were saved."""
    saved = [Profile(name=row["name"], points=row["points"]) for row in behind.store.rows("profile_list")]
    names = {profile.name for profile in saved}
    return [*(Profile(name=name, points=points) for name, points in DRAWN.items() if name not in names), *saved]


@router.put("/profiles/{name}", status_code=204)
def save_profile(behind: Behind, wish: ProfileWish, name: str = Path(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f]+$")) -> None:
    """Save a drawn profile under a name."""
    behind.store.rows("profile_write", name=name, points=json.dumps(wish.points))


@router.delete("/profiles/{name}", status_code=204)
def forget_profile(behind: Behind, name: str) -> None:
    """Forget a saved profile."""
    if "\x00" in name or behind.store.row("profile_delete", name=name) is None:
        raise NotThere("no profile of this name was saved")


def _measured(name: str) -> SturdyTypeface:
    face = typeface(name)
    found = sturdiness(name)
    return SturdyTypeface(**typeface_choice(face).model_dump(), stem=found.stem, thin=found.thin, counter=found.counter, holds=found.holds)
