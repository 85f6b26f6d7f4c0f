"""What the live view draws: the shot evaluated over all frames, and the bodies it names."""

from __future__ import annotations

import hashlib
from typing import Any
from uuid import UUID

import cv2
import numpy as np
from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import Sheet, Shot, Vector
from ..core.finish import TERMS, fill_picture
from ..core.light import STUDIOS, panorama
from ..core.scene import Baked, BodyStore, bake, frame_titles
from ..store import NotThere
from ..store import shots as store
from .blocks import pack
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["scene"], responses=PROBLEMS)
BLOCK = "application/octet-stream"
# Of a body that changes from frame to frame, the live view gets this many states.
MOST_FORMS = 600


class BodiesWish(BaseModel):
    model_config = ConfigDict(extra="forbid")
    names: list[str] = Field(min_length=1, max_length=800)


class FrameWish(BaseModel):
    model_config = ConfigDict(extra="forbid")
    frame: int = Field(0, ge=0, le=200_000)


class Framing(BaseModel):
    position: Vector
    aim: Vector


@router.get("/shots/{shot}/scene", response_class=Response)
def scene(behind: Behind, shot: UUID) -> Response:
    """The shot over all frames as one block; letters name their bodies."""
    row = store.read_shot(behind.store, shot)
    return scene_block(row.shot, row.revision, behind.bodies)


def scene_block(shot: Shot, revision: int, bodies: BodyStore) -> Response:
    """A shot of a revision, evaluated, as a block; bodies that had to be built for it come along."""
    baked, mark = bake(shot), bodies.mark()
    arrays = _camera_arrays(baked)
    titles = {}
    for name, title in baked.titles.items():
        at = f"title/{name}"
        arrays[f"{at}/matrix"] = title.matrix
        arrays[f"{at}/base_colour"], arrays[f"{at}/form"] = title.base_colour, title.form
        for i, term in enumerate(TERMS):
            arrays[f"{at}/{term}"] = title.terms[:, :, i]
        # The first form is built at once, others as they are looked at.
        bodies.letters(title.forms[0])
        forms, matrices, start = [], [], 0
        for form in title.forms[:MOST_FORMS]:
            letters = bodies.named(form)
            matrices += [letter.matrix for letter in letters]
            forms.append({
                "start": start, "bodies": [letter.body for letter in letters], "sources": [letter.source for letter in letters],
                "finishes": [letter.finish for letter in letters],
            })
            start += len(letters)
        arrays[f"{at}/letters"] = np.array(matrices).reshape(-1, 4, 4)
        pieces = title.forms[0].pieces
        titles[name] = {
            "forms": forms, "limited": sorted(bodies.limited(bodies.letters(title.forms[0]))), "missing": pieces.missing,
            "borrowed": pieces.borrowed, "em": pieces.listed[0].em if pieces.listed else 1.0,
        }
        thing = shot.things[name]
        if isinstance(thing, Sheet) and thing.fill.kind != "colour":
            titles[name]["fill"] = hashlib.blake2b(f"{thing.fill!r}{thing.finish.base_colour!r}".encode(), digest_size=8).hexdigest()
    for name, light in baked.lights.items():
        at = f"light/{name}"
        arrays[f"{at}/matrix"], arrays[f"{at}/radiance"] = light.matrix, light.radiance
        arrays[f"{at}/position"], arrays[f"{at}/aim"], arrays[f"{at}/size"] = light.position, light.aim, light.size
    for pointer, values in baked.channels.items():
        arrays[f"channel{pointer}"] = values
    facts = {
        "revision": revision, "frames": len(baked.frames), "titles": titles, "lights": list(baked.lights),
        "channels": list(baked.channels), "studio": shot.surroundings.studio,
    }
    facts["ends"] = _add_bodies(arrays, bodies, bodies.since(mark))
    return Response(pack(facts, arrays), media_type=BLOCK)


def _add_bodies(arrays: dict[str, np.ndarray[Any, Any]], bodies: BodyStore, names: list[str]) -> dict[str, list[int]]:
    """Put bodies into a block; the ends of their parts, by name."""
    ends: dict[str, list[int]] = {}
    for name in names:
        body = bodies.get(name)
        if body is None:
            continue
        ends[name] = list(body.ends)
        arrays[f"{name}/position"], arrays[f"{name}/normal"] = body.position, body.normal
        arrays[f"{name}/triangles"] = body.triangles
        if body.pictured:
            arrays[f"{name}/uv"] = body.uv
    return ends


def _camera_arrays(baked: Baked) -> dict[str, np.ndarray[Any, Any]]:
    return {
        "camera/position": baked.camera_position, "camera/aim": baked.camera_aim, "camera/roll": baked.camera_roll,
        "camera/angle": baked.camera_angle, "camera/exposure": baked.exposure, "backdrop": baked.backdrop,
        "surroundings/strength": baked.surroundings_strength, "surroundings/rotation": baked.surroundings_rotation,
    }


@router.get("/shots/{shot}/things/{thing}/fill", response_class=Response)
def fill(behind: Behind, shot: UUID, thing: str) -> Response:
    """What is on a sheet, as a picture (PNG, sRGB)."""
    sheet = store.read_shot(behind.store, shot).shot.things.get(thing)
    if not isinstance(sheet, Sheet):
        raise NotThere("there is no sheet of this name in the shot")
    base = sheet.finish.base_colour
    linear = fill_picture(sheet.fill, (base.r, base.g, base.b))
    codes = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 1e-9) ** (1 / 2.4) - 0.055)
    _, data = cv2.imencode(".png", np.rint(codes[..., ::-1] * 255).astype(np.uint8), [cv2.IMWRITE_PNG_COMPRESSION, 1])
    return Response(data.tobytes(), media_type="image/png")


@router.post("/bodies", response_class=Response)
def bodies(behind: Behind, wish: BodiesWish) -> Response:
    """Letters' meshes by name; names that are no longer known are left out: ask for the scene again."""
    arrays: dict[str, np.ndarray[Any, Any]] = {}
    ends = _add_bodies(arrays, behind.bodies, wish.names)
    return Response(pack({"ends": ends}, arrays), media_type=BLOCK)


@router.get("/surroundings/{name}", response_class=Response)
def surroundings(name: str) -> Response:
    """A studio as a block: ``picture`` (rows, columns, 3), scene-linear, zenith first."""
    if name not in STUDIOS:
        raise NotThere(f"there is no studio of this name; choose {', '.join(STUDIOS)}")
    return Response(
        pack({"studio": name}, {"picture": panorama(name)}), media_type=BLOCK,
        headers={"Cache-Control": "max-age=86400"},
    )


@router.post("/shots/{shot}/framing")
def framing(behind: Behind, shot: UUID, wish: FrameWish) -> Framing:
    """Where the camera would have to stand to frame the titles at a frame."""
    row = store.read_shot(behind.store, shot)
    found = frame_titles(row.shot, behind.bodies, min(wish.frame, row.shot.format.frames - 1))
    if found is None:
        raise NotThere("there are no letters to frame; type some words first")
    return Framing(position=found[0], aim=found[1])
