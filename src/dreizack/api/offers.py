"""Edits that the core offers whole: whoever asks for them gets the same, and one undo takes them back."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from ..core.document import (
    Light,
    Shot,
    apply_edit,
    camera_named,
    cut_to,
    edited_as,
    hanging,
    mirrored_keys,
    pasted_keys,
    repeated_keys,
    reversed_keys,
    stretched_keys,
    with_camera,
    with_copy,
    with_new,
    without_camera,
    without_item,
    without_thing,
)
from ..core.light import measured_in
from ..core.motion import evened_keys
from ..core.scene import hung_on, respanned, rigged
from ..store import NotThere
from ..store import shots as store
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["offers"], responses=PROBLEMS)


NO_SUCH_THING = "there is nothing of this name in the shot"
NO_SUCH_CAMERA = "there is no such camera in the shot"


class Wish(BaseModel):
    model_config = ConfigDict(extra="forbid")


class UnitWish(Wish):
    """What a light is to be measured in."""

    unit: Literal["stops", "candela", "lumen", "lux"]


class SpanWish(Wish):
    """From which frame up to which a thing is to be there; with ``ripple`` what comes later moves along."""

    start: int = Field(ge=0, le=200_000)
    end: int = Field(ge=1, le=200_000)
    ripple: bool = False


class HangWish(Wish):
    """What a thing, or the camera, is to hang on; it stays where it is at ``frame``."""

    thing: str = Field(max_length=48, description="A thing's name, or that of a camera.")
    on: str = Field("", max_length=40)
    frame: int = Field(0, ge=0, le=200_000)


class RigWish(Wish):
    """How a camera is to stand; it stays where it is at ``frame``, unless it goes by the plate."""

    camera: str = Field(
        "camera", max_length=48, description="camera, or camera: and the name of a further one."
    )
    rig: Literal["free", "orbit", "matched"]
    frame: int = Field(0, ge=0, le=200_000)


class MomentWish(Wish):
    """The frame at which what is left stays where it is."""

    frame: int = Field(0, ge=0, le=200_000)


class ItemWish(Wish):
    """An item of a list to be removed."""

    at: str = Field(max_length=300, description="Pointer of the list.")
    index: int = Field(ge=0, le=2000)


class KeysWish(Wish):
    """What is to be done with chosen keys: pointers of values, each with the frames of chosen keys.

    ``share`` and ``about`` are for stretching, ``times`` for repeating, ``about`` is where they are pasted,
    ``onto`` the thing they are pasted on, where it is another one.
    """

    what: Literal["reverse", "mirror", "stretch", "repeat", "even", "paste"]
    chosen: dict[str, list[float]] = Field(min_length=1, max_length=500)
    share: float = Field(1.0, ge=0.001, le=1000)
    about: float = Field(0.0, ge=0, le=200_000)
    times: int = Field(1, ge=1, le=200)
    onto: str = Field("", max_length=40)


class Offered(BaseModel):
    """Whether anything changed, and the revision now."""

    changed: bool
    revision: int


def changed_by(
    behind: Behind, shot: UUID, make: Callable[[Shot], list[dict[str, Any]]], missing: str
) -> Offered:
    """Apply what the core offers to a shot as it is now."""
    try:
        changed = store.change_shot(behind.store, shot, make)
    except KeyError as why:
        raise NotThere(missing) from why
    behind.posters.stale(shot)
    return Offered(changed=changed, revision=store.read_shot(behind.store, shot).revision)


@router.post("/shots/{shot}/lights/{light}/unit")
def measure_light(behind: Behind, shot: UUID, light: str, wish: UnitWish) -> Offered:
    """Measure a light in another unit; it stays the light it is, keys and all."""
    if not isinstance(store.read_shot(behind.store, shot).shot.things.get(light), Light):
        raise NotThere("there is no light of this name in the shot")
    return changed_by(
        behind,
        shot,
        lambda now: measured_in(now, light, wish.unit) if light in now.lights else [],
        "there is no light of this name in the shot",
    )


@router.post("/shots/{shot}/things/{thing}/span")
def span_thing(behind: Behind, shot: UUID, thing: str, wish: SpanWish) -> Offered:
    """Let a thing come and go at other frames; keys go along with its arrival and departure."""
    return changed_by(
        behind,
        shot,
        lambda now: respanned(now, thing, wish.start, wish.end, wish.ripple),
        "there is nothing of this name in the shot that comes and goes",
    )


@router.post("/shots/{shot}/things/{thing}/remove")
def remove_thing(behind: Behind, shot: UUID, thing: str, wish: MomentWish) -> Offered:
    """Remove a thing with its keys; what hangs on it is let go where it is."""

    def without(now: Shot) -> list[dict[str, Any]]:
        cameras = [("camera", now.camera), *((f"camera:{name}", one) for name, one in now.cameras.items())]
        hung = [name for name, other in [*now.things.items(), *cameras] if hanging(other) == thing]

        def let_go(seen: Shot, name: str) -> list[dict[str, Any]]:
            return hung_on(seen, name, "", wish.frame)

        freed = [one for name in hung for one in edited_as(now, name, let_go)]
        return [*freed, *without_thing(now, thing)]

    return changed_by(behind, shot, without, NO_SUCH_THING)


@router.post("/shots/{shot}/items/remove")
def remove_item(behind: Behind, shot: UUID, wish: ItemWish) -> Offered:
    """Remove an item of a list (a set, a shell, a range …) with its keys; keys of later ones go down with
    them."""
    return changed_by(
        behind, shot, lambda now: without_item(now, wish.at, wish.index), "there is no such item in the shot"
    )


class KeysDone(Offered):
    """``lost`` lists the values that found no place."""

    lost: list[str]


@router.post("/shots/{shot}/keys")
def change_keys(behind: Behind, shot: UUID, wish: KeysWish) -> KeysDone:
    """Turn chosen keys round, mirror their values, stretch, repeat, even out their speed, or paste them."""
    lost: list[str] = []

    def change(now: Shot) -> list[dict[str, Any]]:
        match wish.what:
            case "reverse":
                return reversed_keys(now, wish.chosen)
            case "mirror":
                return mirrored_keys(now, wish.chosen)
            case "stretch":
                return stretched_keys(now, wish.chosen, wish.share, wish.about)
            case "even":
                return evened_keys(now, wish.chosen)
            case "repeat":
                return repeated_keys(now, wish.chosen, wish.times)
            case _:
                pasted = pasted_keys(now, wish.chosen, wish.about, wish.onto)
                lost[:] = pasted.lost
                return pasted.patch

    done = changed_by(behind, shot, change, "these keys are not in the shot any more")
    return KeysDone(changed=done.changed, revision=done.revision, lost=lost)


@router.post("/shots/{shot}/hang")
def hang(behind: Behind, shot: UUID, wish: HangWish) -> Offered:
    """Hang a thing, or the camera, on another one, or let it go; it stays where it is."""
    return changed_by(
        behind,
        shot,
        lambda now: edited_as(now, wish.thing, lambda seen, name: hung_on(seen, name, wish.on, wish.frame)),
        NO_SUCH_THING,
    )


@router.post("/shots/{shot}/camera/rig")
def rig_camera(behind: Behind, shot: UUID, wish: RigWish) -> Offered:
    """Let the camera stand free, or at angles around its aim; it stays where it is, at its keys too."""
    return changed_by(
        behind,
        shot,
        lambda now: edited_as(now, wish.camera, lambda seen, _: rigged(seen, wish.rig, wish.frame)),
        NO_SUCH_CAMERA,
    )


class ThingWish(Wish):
    """A new thing of a kind, or a copy of one, mirrored where it is a light."""

    kind: str = Field("", max_length=20)
    like: str = Field("", max_length=40)
    mirrored: bool = False


class Added(Offered):
    """``name`` is that of the new thing."""

    name: str


@router.post("/shots/{shot}/things")
def add_thing(behind: Behind, shot: UUID, wish: ThingWish) -> Added:
    """Add a thing where one would want it, or a copy of one with all that moves it."""
    made = ""

    def added(now: Shot) -> list[dict[str, Any]]:
        nonlocal made
        made, patch = (
            with_copy(now, wish.like, wish.mirrored) if wish.like else with_new(now, wish.kind or "title")
        )
        return patch

    done = changed_by(behind, shot, added, "there is no such thing, or no such kind of things")
    return Added(changed=done.changed, revision=done.revision, name=made)


class CameraWish(Wish):
    """A further camera, like one that there is, looked through from a frame on where it is said."""

    like: str = Field("camera", max_length=48)
    frame: int | None = Field(None, ge=0, le=200_000)


class CameraAdded(Offered):
    """``name`` is what the camera is called in requests."""

    name: str


class CutWish(Wish):
    """Which camera is looked through from a frame on, up to the next cut."""

    camera: str = Field(max_length=48)
    frame: int = Field(ge=0, le=200_000)


@router.post("/shots/{shot}/cameras")
def add_camera(behind: Behind, shot: UUID, wish: CameraWish) -> CameraAdded:
    """Add a camera like another one, with all that moves it."""
    made = ""

    def added(now: Shot) -> list[dict[str, Any]]:
        nonlocal made
        name, patch = with_camera(now, _camera(wish.like))
        made = f"camera:{name}"
        if wish.frame is None:
            return patch
        return [*patch, *cut_to(apply_edit(now, patch).shot, name, wish.frame)]

    done = changed_by(behind, shot, added, NO_SUCH_CAMERA)
    return CameraAdded(changed=done.changed, revision=done.revision, name=made)


@router.post("/shots/{shot}/cameras/cut")
def cut(behind: Behind, shot: UUID, wish: CutWish) -> Offered:
    """Look through a camera from a frame on; the one that is looked through before takes the cut away."""
    return changed_by(behind, shot, lambda now: cut_to(now, _camera(wish.camera), wish.frame), NO_SUCH_CAMERA)


@router.post("/shots/{shot}/cameras/{name}/remove")
def remove_camera(behind: Behind, shot: UUID, name: str) -> Offered:
    """Remove a further camera, with its keys and the cuts to it."""
    return changed_by(behind, shot, lambda now: without_camera(now, name), NO_SUCH_CAMERA)


def _camera(thing: str) -> str:
    """The name of the camera that is meant; KeyError where it is none."""
    name = camera_named(thing)
    if name is None:
        raise KeyError(thing)
    return name
