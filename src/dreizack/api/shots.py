"""Shots: open, edit, undo, copy, exchange as files."""

from __future__ import annotations

import asyncio
import re
from typing import Annotated, Any, Literal
from uuid import UUID

import numpy as np
from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import Format, Shot, Title, resolve, write_shot
from ..core.document import read_shot as read_file
from ..core.document.plain_text import Lines
from ..core.exchange import write_body
from ..core.exchange.scene import scene_file
from ..core.scene import bake, finishes, frame_names
from ..core.starts import STARTS, started
from ..store import NotThere
from ..store import shots as store
from ..store.shots import one
from ..store.view_cache import view_key
from ..work import note_edit
from .names import Name
from .problems import PROBLEMS
from .scene import Around, scene_block
from .services import Behind

router = APIRouter(tags=["shots"], responses=PROBLEMS)


class NewShot(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: Name
    format: Format
    words: Lines = Field("TITLE", max_length=600)
    start: str = Field("plain", max_length=40)


class Made(BaseModel):
    id: UUID


class OpenShot(BaseModel):
    """A shot with its revision; edits name the revision they were made on."""

    id: UUID
    production: UUID
    production_name: str
    revision: int
    document: Shot
    can_undo: bool
    can_redo: bool


class Operation(BaseModel):
    """One operation of a JSON Patch (RFC 6902)."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)
    op: Literal["add", "remove", "replace", "move", "copy", "test"]
    path: str = Field(max_length=400)
    value: Any = None
    source: str | None = Field(None, alias="from", max_length=400)

    def plain(self) -> dict[str, Any]:
        plain: dict[str, Any] = {"op": self.op, "path": self.path}
        if self.op in ("add", "replace", "test"):
            plain["value"] = self.value
        if self.source is not None:
            plain["from"] = self.source
        return plain


class EditWish(BaseModel):
    """A patch against a revision; edits of one gesture are undone together."""

    model_config = ConfigDict(extra="forbid")
    base: int = Field(ge=0, le=2_000_000_000)
    patch: list[Operation] = Field(min_length=1, max_length=500)
    gesture: str | None = Field(None, max_length=64, pattern=r"^[A-Za-z0-9-]*$")


class Revised(BaseModel):
    revision: int


class Travelled(BaseModel):
    """After undo or redo; ``moved`` is false where there was nothing to do."""

    moved: bool
    revision: int


@router.post("/productions/{production}/shots", status_code=201)
def create_shot(behind: Behind, production: UUID, wish: NewShot) -> Made:
    """A new shot: words in a whole look, framed."""
    start = STARTS.get(wish.start)
    if start is None:
        raise NotThere("there is no start of this name")
    shot = started(start, wish.words, wish.format, wish.name)
    return Made(id=store.create_shot(behind.store, production, shot))


@router.get("/shots/{shot}")
def read_shot(behind: Behind, shot: UUID) -> OpenShot:
    """The shot as it is now."""
    row = store.read_shot(behind.store, shot)
    return OpenShot(
        id=row.id,
        production=row.production,
        production_name=row.production_name,
        revision=row.revision,
        document=row.shot,
        can_undo=row.can_undo,
        can_redo=row.can_redo,
    )


@router.post("/shots/{shot}/edits")
def edit_shot(behind: Behind, shot: UUID, wish: EditWish, scene: bool = False, around: Around = 0) -> Revised:
    """Apply a JSON Patch to a revision; 409 with what changed where the shot has moved on.

    With ``scene`` the answer is the scene of the new revision as a block, so that the live view
    needs no second request.
    """
    note_edit(behind.data)
    patch = [operation.plain() for operation in wish.patch]
    revision, edited = store.edited_shot(behind.store, shot, wish.base, patch, wish.gesture or None)
    behind.posters.stale(shot)
    if scene:
        return scene_block(edited, revision, behind.bodies, around)  # type: ignore[return-value]
    return Revised(revision=revision)


@router.post("/shots/{shot}/undo")
def undo(behind: Behind, shot: UUID) -> Travelled:
    """Take the latest edit (or gesture) back."""
    return _travelled(behind, shot, store.undo(behind.store, shot))


@router.post("/shots/{shot}/redo")
def redo(behind: Behind, shot: UUID) -> Travelled:
    """Bring back what was undone last."""
    return _travelled(behind, shot, store.redo(behind.store, shot))


@router.post("/shots/{shot}/copy", status_code=201)
def copy_shot(behind: Behind, shot: UUID) -> Made:
    """Duplicate a shot within its production."""
    row = store.read_shot(behind.store, shot)
    row.shot.name = f"{row.shot.name[:110]} copy"
    return Made(id=store.create_shot(behind.store, row.production, row.shot))


@router.delete("/shots/{shot}", status_code=204)
def delete_shot(behind: Behind, shot: UUID) -> None:
    """Delete it; ``restore`` takes that back."""
    row = one(behind.store.row("shot_delete", id=shot), "shot")
    behind.store.tell("production", id=str(row["production"]))


@router.post("/shots/{shot}/restore")
def restore_shot(behind: Behind, shot: UUID) -> Made:
    """Take a deletion back."""
    row = one(behind.store.row("shot_restore", id=shot), "deleted shot")
    behind.store.tell("production", id=str(row["production"]))
    return Made(id=row["id"])


@router.get("/shots/{shot}/file", response_class=Response)
def export_shot(behind: Behind, shot: UUID) -> Response:
    """The shot as a file that ``dreizack render`` and import understand."""
    found = store.read_shot(behind.store, shot).shot
    name = re.sub(r"[^A-Za-z0-9]+", "-", found.name).strip("-").lower() or "shot"
    headers = {"Content-Disposition": f'attachment; filename="{name}.json"'}
    return Response(write_shot(found), media_type="application/json", headers=headers)


@router.get("/shots/{shot}/gltf", response_class=Response)
def export_scene(behind: Behind, shot: UUID) -> Response:
    """The shot with its motion, camera and lights as a 3D scene (GLB)."""
    found = store.read_shot(behind.store, shot).shot
    name = re.sub(r"[^A-Za-z0-9]+", "-", found.name).strip("-").lower() or "shot"
    headers = {"Content-Disposition": f'attachment; filename="{name}.glb"'}
    return Response(scene_file(found, behind.bodies), media_type="model/gltf-binary", headers=headers)


@router.get("/shots/{shot}/usd", response_class=Response)
def export_layer(
    behind: Behind,
    shot: UUID,
    kind: Annotated[Literal["usdc", "usda"], Query(description="Binary, or text.")] = "usdc",
) -> Response:
    """The shot with its motion, camera and lights as a USD layer."""
    # It is large, and few ask for it.
    from ..core.exchange.scene.usd import usd_file

    found = store.read_shot(behind.store, shot).shot
    name = re.sub(r"[^A-Za-z0-9]+", "-", found.name).strip("-").lower() or "shot"
    headers = {"Content-Disposition": f'attachment; filename="{name}.{kind}"'}
    return Response(usd_file(found, kind, behind.bodies), media_type="model/vnd.usd", headers=headers)


# Read as bytes, not as a model: only so the core can say where a damaged file is damaged.
SHOT_FILE = {
    "requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}
}


BODY_TYPES = {"glb": "model/gltf-binary", "obj": "model/obj", "stl": "model/stl", "svg": "image/svg+xml"}


@router.get("/shots/{shot}/things/{thing}/body", response_class=Response)
def export_body(
    behind: Behind,
    shot: UUID,
    thing: str,
    kind: Literal["glb", "obj", "stl", "svg"] = "glb",
    frame: int = Query(0, ge=0, le=200_000),
) -> Response:
    """A title's body at a frame as a file, at its origin."""
    found = store.read_shot(behind.store, shot).shot
    title = found.bodied.get(thing)
    if title is None:
        raise NotThere("there is nothing with a body of this name in the shot")
    baked = bake(found, np.array([float(min(frame, found.format.frames - 1))])).titles[thing]
    try:
        data = write_body(
            baked.forms[0],
            [resolve(title, at) for at in finishes(title)],
            kind,
            behind.bodies,
            baked.poses_at(0),
        )
    except ValueError as why:
        raise NotThere(str(why)) from None
    name = (
        re.sub(r"[^A-Za-z0-9]+", "-", title.words if isinstance(title, Title) else title.name)
        .strip("-")
        .lower()
        or "title"
    )
    return Response(
        data,
        media_type=BODY_TYPES[kind],
        headers={"Content-Disposition": f'attachment; filename="{name}.{kind}"'},
    )


@router.post("/productions/{production}/files", status_code=201, openapi_extra=SHOT_FILE)
async def import_shot(behind: Behind, request: Request, production: UUID) -> Made:
    """Add a shot from a file; a damaged file is refused and nothing is stored."""
    data = await request.body()
    return Made(
        id=await asyncio.to_thread(lambda: store.create_shot(behind.store, production, read_file(data)))
    )


@router.get("/shots/{shot}/poster", response_class=Response)
async def poster(behind: Behind, request: Request, shot: UUID) -> Response:
    """A traced picture of the shot (JPEG); 404 until there is one."""
    return await behind.posters.answer(shot, request)


@router.get("/shots/{shot}/markers/{number}/picture", response_class=Response)
async def marker_picture(behind: Behind, request: Request, shot: UUID, number: int) -> Response:
    """A traced picture (JPEG) of the frame that a marker of the shot is at; 404 until there is one."""
    return await behind.posters.answer(shot, request, number)


def _travelled(behind: Behind, shot: UUID, revision: int | None) -> Travelled:
    if revision is None:
        return Travelled(moved=False, revision=store.read_shot(behind.store, shot).revision)
    behind.posters.stale(shot)
    return Travelled(moved=True, revision=revision)


class TracedFrames(BaseModel):
    """The frames whose finished traced picture is kept, as runs of first and last frame."""

    runs: list[tuple[int, int]]


@router.get("/shots/{shot}/traced")
def traced_frames(
    behind: Behind,
    shot: UUID,
    width: int = Query(ge=16, le=3840),
    height: int = Query(ge=16, le=3840),
    samples: int = Query(16, ge=2, le=256),
) -> TracedFrames:
    """Which frames the traced view has at this size, or at once from a delivery."""
    row = store.read_shot(behind.store, shot)
    names = frame_names(row.shot, np.arange(row.shot.format.frames, dtype=np.float64))
    seen = behind.kept_views.there(view_key(name, width, height, samples) for name in names)
    there = np.array(
        [
            False,
            *(
                one or behind.kept_frames.width_of(name) >= width
                for one, name in zip(seen, names, strict=True)
            ),
            False,
        ]
    )
    edges = np.flatnonzero(np.diff(there.astype(np.int8)))
    return TracedFrames(runs=[(int(a), int(b) - 1) for a, b in zip(edges[::2], edges[1::2], strict=True)])
