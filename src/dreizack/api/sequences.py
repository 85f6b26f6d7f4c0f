"""Sequences: open, edit, undo, look at frames, order all versions and formats at once."""

from __future__ import annotations

import asyncio
from typing import Annotated, Any, Literal
from uuid import UUID

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import Format, Rate
from ..core.media import Order, OrderError, named_format
from ..core.sequence import (
    Bundle,
    Sequence,
    SequencePiece,
    Stretch,
    TableError,
    Version,
    columns,
    sequence_sound,
    stretches,
    versioned,
    write_bundle,
)
from ..core.sequence.document import read_sequence as parsed_sequence
from ..core.sequence.framing import even
from ..core.sound import wave_file
from ..store import NotThere
from ..store.history import one
from ..store.sequences import SEQUENCES, SequenceRow, bundle_of, create_sequence, load_sequence
from .deliveries import Delivery, begin_delivery
from .names import Name
from .problems import PROBLEMS
from .sequence_frames import kept_frames, sequence_frame
from .services import Behind
from .shots import EditWish, Made, Revised, Travelled

router = APIRouter(tags=["sequences"], responses=PROBLEMS)

# Orders that are made at once.
MOST_ORDERS = 200
# Seconds of sound that are mixed to be heard.
LONGEST_SOUND = 180


class NewSequence(BaseModel):
    """A sequence of a size and rate, with shots of the production on its line: all of them where nothing is
    said."""

    model_config = ConfigDict(extra="forbid")
    name: Name
    width: int = Field(1920, ge=16, le=8192)
    height: int = Field(1080, ge=16, le=8192)
    rate: Rate = Field(default_factory=Rate)
    shots: list[UUID] | None = Field(None, max_length=400)


class ShotOnLine(BaseModel):
    """A shot that a sequence may take a stretch of."""

    id: UUID
    name: str
    format: Format
    revision: int


class OtherSequence(BaseModel):
    """A sequence that another one may take a stretch of, with its length in frames."""

    id: UUID
    name: str
    total: int
    revision: int


class OpenSequence(BaseModel):
    """A sequence with its revision, where its pieces begin, what of it can be shown live, and the shots and
    other sequences of its production; ``missing`` are those it names that are gone, ``lost`` why one within
    it cannot be laid out. ``columns`` are its titles as a table of versions has them."""

    id: UUID
    production: UUID
    production_name: str
    revision: int
    document: Sequence
    starts: list[int]
    total: int
    live: list[Stretch]
    shots: list[ShotOnLine]
    others: list[OtherSequence]
    missing: list[str]
    lost: str
    columns: dict[str, str]
    can_undo: bool
    can_redo: bool


class FrameRuns(BaseModel):
    """Frames as runs of first and last."""

    runs: list[tuple[int, int]]


class SequenceOrder(BaseModel):
    """What to render: range (both ends included), formats, versions by name (none: as it is), size of the
    picture (none: that of the sequence or version), quality."""

    model_config = ConfigDict(extra="forbid")
    first: int = Field(0, ge=0, le=200_000)
    last: int | None = Field(None, ge=0, le=200_000)
    formats: list[str] = Field(min_length=1, max_length=12)
    versions: list[str] = Field(default_factory=list, max_length=500)
    share: float = Field(1.0, ge=0.05, le=1)
    quality: Literal["draft", "good", "final"] = "good"


@router.post("/productions/{production}/sequences", status_code=201)
def new_sequence(behind: Behind, production: UUID, wish: NewSequence) -> Made:
    """A new sequence."""
    one(behind.store.row("production_read", id=production), "production")
    there = {row["id"]: row for row in behind.store.rows("shot_list", production=production)}
    wanted = list(there) if wish.shots is None else [name for name in wish.shots if name in there]
    line = [
        SequencePiece(shot=str(name), name=there[name]["name"], frames=Format(**there[name]["format"]).frames)
        for name in wanted
    ]
    made = Sequence(name=wish.name, width=wish.width, height=wish.height, rate=wish.rate, line=line)
    return Made(id=create_sequence(behind.store, production, made))


@router.get("/sequences/{sequence}")
def read_sequence(behind: Behind, sequence: UUID) -> OpenSequence:
    """The sequence as it is now."""
    row = load_sequence(behind.store, sequence)
    lost = ""
    try:
        bundle = bundle_of(behind.store, row)
    except NotThere as why:
        # It can be taken off the line.
        lost, bundle = str(why), Bundle(row.sequence, {})
    others = [
        OtherSequence(id=other["id"], name=other["name"], total=total_of(other), revision=other["revision"])
        for other in behind.store.rows("sequence_list", production=row.production)
        if other["id"] != row.id
    ]
    return OpenSequence(
        id=row.id,
        production=row.production,
        production_name=row.production_name,
        revision=row.revision,
        document=row.sequence,
        starts=row.sequence.starts,
        total=row.sequence.total,
        live=[stretch for stretch in stretches(bundle.sequence) if stretch.shot in bundle.shots],
        shots=[ShotOnLine(**shot) for shot in behind.store.rows("shot_list", production=row.production)],
        others=others,
        lost=lost,
        missing=[] if lost else [name for name in row.sequence.shots if name not in bundle.shots],
        columns={heading: f"{shot}/{thing}" for heading, (shot, thing) in columns(bundle).items()},
        can_undo=row.can_undo,
        can_redo=row.can_redo,
    )


def total_of(row: dict[str, Any]) -> int:
    """Frames of a sequence as it lies in the store."""
    return parsed_sequence(row["document"]).total


@router.post("/sequences/{sequence}/edits")
def edit_sequence(behind: Behind, sequence: UUID, wish: EditWish) -> Revised:
    """Apply a JSON Patch to a revision; 409 with what changed where the sequence has moved on."""
    patch = [operation.plain() for operation in wish.patch]
    revision, _ = SEQUENCES.edited(behind.store, sequence, wish.base, patch, wish.gesture or None)
    return Revised(revision=revision)


@router.post("/sequences/{sequence}/undo")
def undo(behind: Behind, sequence: UUID) -> Travelled:
    """Take the latest edit (or gesture) back."""
    return _travelled(behind, sequence, SEQUENCES.undo(behind.store, sequence))


@router.post("/sequences/{sequence}/redo")
def redo(behind: Behind, sequence: UUID) -> Travelled:
    """Bring back what was undone last."""
    return _travelled(behind, sequence, SEQUENCES.redo(behind.store, sequence))


def _travelled(behind: Behind, sequence: UUID, revision: int | None) -> Travelled:
    if revision is None:
        return Travelled(moved=False, revision=load_sequence(behind.store, sequence).revision)
    return Travelled(moved=True, revision=revision)


@router.delete("/sequences/{sequence}", status_code=204)
def delete_sequence(behind: Behind, sequence: UUID) -> None:
    """Delete it; ``restore`` takes that back."""
    row = one(behind.store.row("sequence_delete", id=sequence), "sequence")
    behind.store.tell("production", id=str(row["production"]))


@router.post("/sequences/{sequence}/restore")
def restore_sequence(behind: Behind, sequence: UUID) -> Made:
    """Take a deletion back."""
    row = one(behind.store.row("sequence_restore", id=sequence), "deleted sequence")
    behind.store.tell("production", id=str(row["production"]))
    return Made(id=row["id"])


@router.get("/sequences/{sequence}/frame", response_class=Response)
async def frame(
    behind: Behind,
    request: Request,
    sequence: UUID,
    frame: Annotated[int, Query(ge=0, le=200_000)] = 0,
    width: Annotated[int, Query(ge=64, le=1920)] = 640,
    version: Annotated[str, Query(max_length=60)] = "",
    only_kept: bool = False,
    aside: bool = False,
) -> Response:
    """A frame of the sequence (JPEG): at once where its pictures are kept, else traced as a draft; 404 where
    it is not kept and ``only_kept`` was asked for, or nobody waited. What is ``aside`` waits for others."""
    row, bundle = await asyncio.to_thread(opened_sequence, behind, sequence, version)
    return await sequence_frame(behind, request, row.id, bundle, frame, width, only_kept, aside)


@router.get("/sequences/{sequence}/sound", response_class=Response)
def sound(
    behind: Behind,
    sequence: UUID,
    first: Annotated[int, Query(ge=0, le=200_000)] = 0,
    seconds: Annotated[float, Query(gt=0, le=LONGEST_SOUND)] = 30,
) -> Response:
    """What is heard from a frame on (WAV, 16 bit); 404 where nothing is."""
    row, bundle = opened_sequence(behind, sequence)
    last = min(row.sequence.total - 1, first + int(seconds * row.sequence.rate.per_second))
    samples = sequence_sound(bundle, first, last) if last >= first else None
    if samples is None:
        raise NotThere("nothing is heard there")
    return Response(wave_file(samples), media_type="audio/wav", headers={"Cache-Control": "no-cache"})


@router.get("/sequences/{sequence}/kept")
def kept(
    behind: Behind,
    sequence: UUID,
    width: Annotated[int, Query(ge=64, le=1920)] = 640,
    version: Annotated[str, Query(max_length=60)] = "",
) -> FrameRuns:
    """Which frames of a version (empty: as it is) can be shown at once at this size."""
    _, bundle = opened_sequence(behind, sequence, version)
    return FrameRuns(runs=kept_frames(behind, bundle, width))


@router.post("/sequences/{sequence}/deliveries", status_code=201)
def order_sequence(behind: Behind, sequence: UUID, wish: SequenceOrder) -> list[Delivery]:
    """Order every format of every version, as the sequence is now; all of them or none."""
    row, bundle = opened_sequence(behind, sequence)
    total = row.sequence.total
    if total == 0:
        raise OrderError("there is nothing in the sequence; put a shot on its line first")
    formats = [named_format(name) for name in dict.fromkeys(wish.formats)]
    versions = named_versions(row.sequence, wish.versions) or [
        Version(name="original", width=row.sequence.width, height=row.sequence.height)
    ]
    if len(formats) * len(versions) > MOST_ORDERS:
        raise OrderError(
            f"these are {len(formats) * len(versions)} files; order at most {MOST_ORDERS} at once"
        )
    last = total - 1 if wish.last is None else wish.last
    planned = []
    for version in versions:
        size = even(version.width * wish.share), even(version.height * wish.share)
        document = write_bundle(versioned(bundle, version))
        for written in formats:
            order = Order(wish.first, last, *size, wish.quality).check(total, written, "sequence")
            planned.append((version.name if wish.versions else "", written, order, document))
    made = []
    with behind.store.together() as on:
        for name, written, order, document in planned:
            found = behind.store.row(
                "delivery_create_sequence",
                on=on,
                sequence=sequence,
                document=document,
                schema=1,
                first=order.first,
                last=order.last,
                width=order.width,
                height=order.height,
                quality=order.quality,
                format=written.name,
                version=name,
            )
            made.append(one(found, "sequence")["id"])
    return [begin_delivery(behind, delivery) for delivery in made]


def opened_sequence(behind: Behind, sequence: UUID, version: str = "") -> tuple[SequenceRow, Bundle]:
    """A sequence with its shots, in one of its versions; NotThere where a shot is gone."""
    row = load_sequence(behind.store, sequence)
    bundle = bundle_of(behind.store, row)
    gone = next((name for name in bundle.sequence.shots if name not in bundle.shots), None)
    if gone is not None:
        called = next((p.name for p in bundle.sequence.pieces if p.shot == gone and p.name), gone)
        raise NotThere(
            f"the shot “{called}” of this sequence was deleted; restore it or take it off the line"
        )
    if version:
        chosen = named_versions(row.sequence, [version])[0]
        bundle = versioned(bundle, chosen)
        # It is looked at in its own shape.
        shape = {"width": chosen.width, "height": chosen.height}
        bundle = Bundle(bundle.sequence.model_copy(update=shape), bundle.shots)
    return row, bundle


def named_versions(sequence: Sequence, names: list[str]) -> list[Version]:
    """Versions of a sequence by their names. TableError where one is not there."""
    by_name = {version.name: version for version in sequence.versions}
    odd = next((name for name in names if name not in by_name), None)
    if odd is not None:
        raise TableError(f"there is no version called '{odd[:60]}'")
    return [by_name[name] for name in names]
