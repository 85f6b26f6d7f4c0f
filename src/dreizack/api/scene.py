"""What the live view draws: the shot evaluated over its frames, and the bodies it names."""

from __future__ import annotations

import hashlib
from dataclasses import replace
from typing import Annotated, Any
from uuid import UUID

import numpy as np
from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import (
    MAX_FRAMES,
    Bodied,
    Floor,
    Optics,
    Sheet,
    Shot,
    Vector,
    lost_files,
    lost_sounds,
    original_of,
    run_of,
)
from ..core.finish import COLOURS, SPAN, TERMS
from ..core.light import FALLOFFS, SurroundingsState
from ..core.motion import Motion
from ..core.scene import (
    RIPPLES,
    Baked,
    BakedBody,
    BakedLight,
    BodyStore,
    Form,
    air_glow,
    area_things,
    aspect_of,
    bake,
    fans,
    frame_state,
    frame_titles,
    live_gaps,
    on_frame,
    resting_places,
    reveal_box,
    reveal_rows,
    reveal_state,
    travels,
    uv_maps,
    window,
)
from ..store import NotThere
from ..store import shots as store
from .blocks import BLOCK, pack
from .contract import AreaThing, BodyFacts, FanFacts, FormFacts, LampFacts, PictureFacts, SceneFacts
from .problems import PROBLEMS
from .services import Behind
from .shown import AroundWish

router = APIRouter(tags=["scene"], responses=PROBLEMS)
Around = Annotated[int, Query(ge=0, le=MAX_FRAMES, description="The frame that is looked at.")]
# Of a body that changes from frame to frame, the live view gets this many states.
MOST_FORMS = 600
# Keyed values that go to the browser over all frames.
MOST_VALUES = 4_000_000
# Of surroundings that change, so many states.
MOST_AROUND = 48
# Of a picture that moves over its letters, so many places.
MOST_LAID = 250


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
def scene(behind: Behind, shot: UUID, around: Around = 0) -> Response:
    """The shot over all frames, of a long one those around a frame, as one block; letters name their
    bodies."""
    row = store.read_shot(behind.store, shot)
    return scene_block(row.shot, row.revision, behind.bodies, around)


def scene_block(shot: Shot, revision: int, bodies: BodyStore, around: int = 0) -> Response:
    """A shot of a revision, evaluated at as many frames around one as can be held, as a block; bodies that
    had to be built for it come along."""
    first, count = window(shot, around)
    baked, mark = bake(shot, np.arange(first, first + count, dtype=np.float64)), bodies.mark()
    run_end = run_of(shot, first)[1]
    # With all that changes as it is at these frames.
    shot = baked.shot
    arrays = _camera_arrays(baked)
    titles = {name: _body(arrays, shot, name, body, bodies, first) for name, body in baked.titles.items()}
    for name, light in baked.lights.items():
        _light(arrays, name, light)
    arrays.update({f"space/{name}": _held(matrices) for name, matrices in baked.spaces.items()})
    arrays.update({f"pivot/{name}": _held(matrices) for name, matrices in baked.pivots.items()})
    # Strands show the whole shot, unless its values are too many.
    whole = len(shot.moving) * shot.format.frames <= MOST_VALUES
    frames = np.arange(shot.format.frames, dtype=np.float64)
    keyed = Motion(shot, frames).channels if whole and count < len(frames) else baked.channels
    for pointer, values in keyed.items():
        if not _of_copy(pointer):
            arrays[f"channel{pointer}"] = values
    arrays.update({f"optics/{name}": _held(values) for name, values in baked.optics.items()})
    arounds, arrays["surroundings/around"] = _arounds(shot, baked)
    if baked.air.density.any():
        arrays["air"] = _air(shot, baked)
    behind = [_query(replace(a, blur=round(float(np.hypot(a.blur, shot.backdrop.blur)), 2))) for a in arounds]
    facts = SceneFacts(
        revision=revision,
        frames=shot.format.frames,
        first=first,
        count=count,
        run_end=run_end,
        titles=titles,
        lights={name: light.source for name, light in baked.lights.items()},
        lamps={name: _lamp(light) for name, light in baked.lights.items()},
        channels=[at for at in baked.channels if not _of_copy(at)],
        channels_first=0 if whole else first,
        around=[_query(a) for a in arounds],
        around_behind=behind,
        behind=shot.backdrop.kind,
        behind_key=hashlib.blake2b(_behind(shot).encode(), digest_size=8).hexdigest(),
        covered=bool(baked.covers),
        tones=_tones(shot),
        ripples=RIPPLES.tolist(),
        area_things=[AreaThing(effect=e, thing=t, but_for=b) for e, t, b in area_things(shot)],
        displaced_by=shot.optics.bend.file,
        graded=shot.optics.grade.reaches,
        live_gaps=live_gaps(shot, baked),
        at_rest=resting_places(shot, baked),
        view=shot.camera.view,
        lost=sorted({one.name for one in (*lost_files(shot), *lost_sounds(shot.sounds))}),
        ends=_add_bodies(arrays, bodies, bodies.since(mark)),
    )
    return Response(pack(facts.model_dump(mode="json"), arrays), media_type=BLOCK)


def _air(shot: Shot, baked: Baked) -> np.ndarray[Any, Any]:
    """Density, how far there is air before the backdrop (0: there is none), how bright it is by what is all
    around, how far it reaches, how much it scatters forward, its colour (frames, 10)."""
    air = baked.air
    rows = [air.density, air.reach * air.over, air_glow(shot, baked), air.reach, air.forward, air.tint]
    return _held(np.column_stack(rows))


def _of_copy(pointer: str) -> bool:
    """Whether a value is that of a copy, which has none of its own in the document."""
    name = pointer.split("/")[2] if pointer.startswith("/things/") else ""
    return original_of(name) != name


def _behind(shot: Shot) -> str:
    """All that what is seen behind depends on beside the frame."""
    told = repr(shot.backdrop)
    if shot.backdrop.kind == "plate":
        moved = [shot.channels.get("/camera/exposure"), shot.drifts.get("/camera/exposure")]
        told += repr((shot.plate, shot.format.rate, shot.camera.exposure, shot.camera.view, moved))
    return told


def _tones(shot: Shot) -> str:
    """What curves and table of the grade depend on; empty where they do nothing."""
    optics, plain = shot.optics, Optics()
    if optics.curves == plain.curves and not optics.table.file:
        return ""
    told = repr((optics.curves, optics.table, shot.camera.view))
    return hashlib.blake2b(told.encode(), digest_size=8).hexdigest()


Arrays = dict[str, np.ndarray[Any, Any]]


def _held(values: np.ndarray[Any, Any]) -> np.ndarray[Any, Any]:
    """Values over frames; one row where they stay as they are."""
    return values[:1] if (values == values[:1]).all() else values


def _body(
    arrays: Arrays, shot: Shot, name: str, body: BakedBody, bodies: BodyStore, first_frame: int
) -> BodyFacts:
    """Put a thing with a body into a block; what the browser needs to know of it."""
    at, thing = f"title/{name}", shot.bodied[name]
    arrays[f"{at}/there"] = _held(body.there.astype(np.uint32))
    arrays[f"{at}/matrix"], arrays[f"{at}/poses"] = _held(body.matrix), _held(body.poses)
    if body.looks is not None:
        arrays[f"{at}/looks"] = _held(body.looks)
    for i, colour in enumerate(COLOURS):
        arrays[f"{at}/{colour}"] = _held(body.colours[:, :, i])
    for i, term in enumerate(TERMS):
        arrays[f"{at}/{term}"] = _held(body.terms[:, :, i])
    if body.reveal is not None:
        arrays[f"{at}/reveal"] = _reveal(thing, body, bodies)
    # The first form is built at once, others as they are looked at.
    first = bodies.letters(body.forms[0])
    kept, shown = _few_forms(body)
    arrays[f"{at}/form"] = _held(shown)
    aspect, pieces = shot.format.aspect, body.forms[0].pieces
    fill = ""
    if isinstance(thing, Sheet) and thing.fill.kind != "colour":
        told = f"{thing.fill!r}{thing.finish.base_colour!r}"
        fill = hashlib.blake2b(told.encode(), digest_size=8).hexdigest()
    return BodyFacts(
        forms=_forms(kept, bodies),
        limited=sorted(bodies.limited(first)),
        missing=pieces.missing,
        borrowed=pieces.borrowed,
        em=pieces.listed[0].em if pieces.listed else 1.0,
        worn=body.surface_index.tolist(),
        bumps=[(kind, size * SPAN) for kind, size in body.bumps],
        pictures=[
            _lay(arrays, at, n, body, kept, bodies, aspect, first_frame) for n in range(len(body.pictures))
        ],
        seen=thing.visibility.camera,
        # A floor lies below all else: there is nothing for its shadow to fall on.
        casts=thing.visibility.casts and not isinstance(thing, Floor),
        receives=thing.visibility.receives,
        catches=thing.visibility.catches,
        blend=thing.visibility.blend,
        fill=fill,
        own_looks=body.looks is not None,
        reveals=body.reveal is not None,
        fades=thing.fades if isinstance(thing, Floor) else 0.0,
        fans=[
            FanFacts(set=n, starts=s.tolist(), ends=e.tolist(), steps=k) for n, s, e, k in fans(shot, name)
        ],
    )


def _reveal(thing: Bodied, body: BakedBody, bodies: BodyStore) -> np.ndarray[Any, Any]:
    """What of a thing is uncovered (frames, REVEAL_ROW), counted in the box of its first form."""
    assert body.reveal is not None
    states = [reveal_state(thing, values) for values in body.reveal]
    return _held(reveal_rows(states, body.matrix, reveal_box(body.forms[0], bodies)))


def _forms(forms: list[Form], bodies: BodyStore) -> list[FormFacts]:
    found, start = [], 0
    for form in forms:
        letters = bodies.named(form)
        found.append(
            FormFacts(
                start=start,
                bodies=[letter.body for letter in letters],
                pieces=[letter.piece for letter in letters],
                shifts=[letter.shift for letter in letters],
                sources=[letter.source for letter in letters],
                finishes=[letter.finish for letter in letters],
            )
        )
        start += len(letters)
    return found


def _light(arrays: Arrays, name: str, light: BakedLight) -> None:
    at = f"light/{name}"
    arrays[f"{at}/there"] = _held(light.there.astype(np.uint32))
    for term in ("matrix", "radiance", "position", "aim", "size", "shadow"):
        arrays[f"{at}/{term}"] = _held(getattr(light, term))
    if light.cone is not None:
        arrays[f"{at}/cone"] = _held(light.cone)


def _lamp(light: BakedLight) -> LampFacts:
    reaches = None if light.reaches is None else list(light.reaches)
    return LampFacts(reaches=reaches, falloff=FALLOFFS[light.falloff] if light.source != "sun" else 0)


def _add_bodies(
    arrays: dict[str, np.ndarray[Any, Any]], bodies: BodyStore, names: list[str]
) -> dict[str, list[int]]:
    """Put bodies into a block; the ends of their parts, by name."""
    ends: dict[str, list[int]] = {}
    for name in names:
        body = bodies.get(name)
        if body is None:
            continue
        ends[name] = list(body.ends)
        arrays[f"{name}/position"], arrays[f"{name}/normal"] = body.position, body.normal
        arrays[f"{name}/triangles"] = body.triangles
        arrays[f"{name}/uv"] = body.uv
    return ends


def _lay(
    arrays: dict[str, np.ndarray[Any, Any]],
    at: str,
    number: int,
    title: BakedBody,
    forms: list[Form],
    bodies: BodyStore,
    frame_aspect: float,
    first_frame: int,
) -> PictureFacts | None:
    """Put into a block where the picture on a surface lies on each letter (14 numbers: the plane's (2, 4),
    the run's (2, 3)), in steps where that changes, or how it fills the frame, and which frame of a video is
    shown; what the browser needs to know of it."""
    picture = title.pictures[number]
    if picture is None:
        return None
    lies, aspect = [], aspect_of(picture)
    steps, step = _steps(title, number)
    for frame in steps.tolist():
        for form in forms:
            letters = bodies.named(form)
            built = [bodies.get(letter.body) for letter in letters]
            lies += uv_maps(
                picture,
                title.texture_transform[frame, number],
                aspect,
                letters,
                built,
                title.matrix[frame],
                title.poses_at(frame),
            )
    goes = travels(picture)
    playing = first_frame + steps[step] if goes else title.playing[:, number]
    arrays[f"{at}/laid_step/{number}"], arrays[f"{at}/playing/{number}"] = _held(step), _held(playing)
    arrays[f"{at}/laid/{number}"] = np.array(
        [np.concatenate([one.plane.ravel(), one.run.ravel()]) for one in lies]
    ).reshape(-1, 14)
    if picture.space == "plate":
        arrays[f"{at}/plate/{number}"] = on_frame(picture, title.texture_transform[:, number], frame_aspect)
    moves = title.texture_transform[steps, number].tolist() if goes else ""
    told = f"{picture!r}{title.forms[0].key}{moves}"
    return PictureFacts(
        key=hashlib.blake2b(told.encode(), digest_size=8).hexdigest(),
        channel=picture.channel,
        repeat=picture.repeat,
        running=bool(lies and lies[0].running),
        letters=len(lies) // max(len(steps), 1),
        plays=picture.fill == "video" or (goes and len(steps) > 1),
        plate=picture.space == "plate",
    )


def _few_forms(title: BakedBody) -> tuple[list[Form], np.ndarray[Any, Any]]:
    """The forms the live view gets, and which of them (frames,) each frame shows: all, or of very many some
    that follow one another evenly in time."""
    if len(title.forms) <= MOST_FORMS:
        return title.forms, title.form
    _, first = np.unique(title.form, return_index=True)
    in_time = title.form[np.sort(first)]
    chosen = np.linspace(0, len(in_time) - 1, MOST_FORMS).round().astype(np.int64)
    place = np.empty(len(title.forms), np.int64)
    place[in_time] = np.searchsorted(chosen, np.arange(len(in_time)), side="right") - 1
    return [title.forms[int(in_time[k])] for k in chosen], place[title.form]


def _steps(title: BakedBody, number: int) -> tuple[np.ndarray[Any, Any], np.ndarray[Any, Any]]:
    """Frames at which a picture lies anew, and which of them (frames,) each frame goes by."""
    picture, count = title.pictures[number], len(title.matrix)
    held = title.texture_transform[:, number]
    if picture is not None and picture.space == "room":
        held = np.column_stack([held, title.matrix.reshape(count, 16)])
    if picture is not None and picture.space not in ("letter", "plate") and len(title.poses) > 1:
        held = np.column_stack([held, title.poses.reshape(count, -1)])
    # Bodies that change as well lie as they do at first.
    if len(title.forms) > 1 or (held == held[0]).all():
        return np.zeros(1, np.int64), np.zeros(count, np.int64)
    steps = np.unique(np.linspace(0, count - 1, min(count, MOST_LAID)).round().astype(np.int64))
    return steps, np.searchsorted(steps, np.arange(count), side="right") - 1


def _arounds(shot: Shot, baked: Baked) -> tuple[list[SurroundingsState], np.ndarray[Any, Any]]:
    """The distinct surroundings of a shot, and which one each frame has."""
    keys = ["/surroundings/tint", "/surroundings/blur", "/surroundings/sun_", "/surroundings/hour"]
    count = len(baked.frames)
    if (
        not any(pointer.startswith(key) for pointer in baked.channels for key in keys)
        and not baked.surroundings_frame.any()
    ):
        return [frame_state(shot, baked, 0).around], np.zeros(count, np.int64)
    # Of many, some that lie evenly.
    steps = np.linspace(0, count - 1, min(count, MOST_AROUND)).round().astype(int)
    return [frame_state(shot, baked, int(i)).around for i in steps], np.searchsorted(
        steps, np.arange(count), side="right"
    ) - 1


def _query(around: SurroundingsState) -> str:
    return AroundWish(
        source=around.source,
        room=around.studio,
        picture=around.picture,
        haze=around.haze,
        elevation=around.sun[0],
        azimuth=around.sun[1],
        red=around.tint[0],
        green=around.tint[1],
        blue=around.tint[2],
        blur=around.blur,
        frame=around.frame,
    ).query()


def _camera_arrays(baked: Baked) -> dict[str, np.ndarray[Any, Any]]:
    over_frames = {
        "camera/position": baked.camera_position,
        "camera/aim": baked.camera_aim,
        "camera/followed": baked.camera_followed,
        "camera/roll": baked.camera_roll,
        "camera/angle": baked.camera_angle,
        "camera/exposure": baked.exposure,
        "backdrop": baked.backdrop,
        "plate/tone": _held(baked.shadow_tone),
        "plate/caught": _held(baked.caught),
        "camera/focus": baked.focus,
        "camera/lens": baked.lens_radius,
        "backdrop/second": baked.backdrop_second,
        "surroundings/strength": baked.surroundings_strength,
        "surroundings/rotation": baked.surroundings_rotation,
        "surroundings/tilt": baked.surroundings_tilt,
    }
    for name, camera in baked.cameras.items():
        at = f"camera:{name}"
        over_frames[f"{at}/position"], over_frames[f"{at}/aim"] = camera.position, camera.aim
        over_frames[f"{at}/followed"], over_frames[f"{at}/angle"] = camera.followed, camera.angle
    return {name: _held(values) for name, values in over_frames.items()}


@router.post("/bodies", response_class=Response)
def bodies(behind: Behind, wish: BodiesWish) -> Response:
    """Letters' meshes by name; names that are no longer known are left out: ask for the scene again."""
    arrays: dict[str, np.ndarray[Any, Any]] = {}
    ends = _add_bodies(arrays, behind.bodies, wish.names)
    return Response(pack({"ends": ends}, arrays), media_type=BLOCK)


@router.post("/shots/{shot}/framing")
def framing(behind: Behind, shot: UUID, wish: FrameWish) -> Framing:
    """Where the camera would have to stand to frame the titles at a frame."""
    row = store.read_shot(behind.store, shot)
    found = frame_titles(row.shot, behind.bodies, min(wish.frame, row.shot.format.frames - 1))
    if found is None:
        raise NotThere("there are no letters to frame; type some words first")
    return Framing(position=found[0], aim=found[1])
