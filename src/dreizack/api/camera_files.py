"""Cameras that come from other programs."""

from __future__ import annotations

from typing import Annotated, Any, Literal
from uuid import UUID

from fastapi import APIRouter, Query, Request

from ..core.document import Shot
from ..core.exchange.camera_in import camera_of_gltf, camera_of_layer, camera_of_table, with_camera
from .library import FILE
from .offers import NO_SUCH_THING, Offered, changed_by
from .problems import PROBLEMS
from .services import Behind
from .uploads import reading

router = APIRouter(tags=["shots"], responses=PROBLEMS)
Kind = Annotated[Literal["csv", "usd", "gltf"], Query(description="A table as ours, a USD layer, or glTF.")]
READERS = {"csv": camera_of_table, "usd": camera_of_layer, "gltf": camera_of_gltf}


class CameraBrought(Offered):
    """``frames``: how many of the camera's there is room for in the shot, ``of`` how many it has."""

    frames: int
    of: int


@router.post("/shots/{shot}/camera/file", openapi_extra=FILE)
async def bring_camera(behind: Behind, request: Request, shot: UUID, kind: Kind) -> CameraBrought:
    """Have the shot's camera go as that of a file does, from the first frame on."""
    data = await request.body()

    def bring() -> CameraBrought:
        course = READERS[kind](data)
        frames: list[int] = []

        def change(now: Shot) -> list[dict[str, Any]]:
            patch, fit = with_camera(now, course)
            frames[:] = [fit]
            return patch

        done = changed_by(behind, shot, change, NO_SUCH_THING)
        return CameraBrought(
            changed=done.changed, revision=done.revision, frames=frames[0], of=len(course.angle)
        )

    return await reading(bring)
