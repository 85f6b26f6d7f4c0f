"""Deliveries: order, watch, pause, cancel, download."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Literal
from uuid import UUID

import cv2
import numpy as np
from fastapi import APIRouter, Path, Query
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import FileResponse, Response

from ..core.media import (
    FORMATS,
    RULE,
    NoPicture,
    Order,
    delivered_picture,
    difference,
    facts_of,
    named_format,
    ruled_name,
)
from ..core.media.cost import fitted_cost
from ..core.render import QUALITIES
from ..store import NotThere
from ..store import shots as store
from ..store.shots import one
from ..work import defer_delivery
from ..work.delivery import delivered_file
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["deliveries"], responses=PROBLEMS)


class NewDelivery(BaseModel):
    """Range (both ends included), size in pixels, quality, format."""

    model_config = ConfigDict(extra="forbid")
    first: int = Field(ge=0, le=200_000)
    last: int = Field(ge=0, le=200_000)
    width: int = Field(ge=16, le=8192)
    height: int = Field(ge=16, le=8192)
    quality: Literal["draft", "good", "final"] = "good"
    format: str = Field("mp4", max_length=20)


class Delivery(BaseModel):
    """An order and how far it is; ``left`` is the time left in seconds, once it can be told."""

    id: UUID
    shot: UUID | None
    sequence: UUID | None
    name: str
    production_name: str
    revision: int
    first: int
    last: int
    width: int
    height: int
    quality: str
    format: str
    version: str
    state: Literal["waiting", "rendering", "paused", "complete", "cancelled", "failed"]
    why: str | None
    bytes: int | None
    ordered: datetime
    began: datetime | None
    ended: datetime | None
    starts: int
    done: int
    kept: int
    latest: int | None
    seconds: float

    @property
    def total(self) -> int:
        return self.last - self.first + 1

    left: float | None = None


class FormatInfo(BaseModel):
    """A format of deliveries: what it is called, what it is for, whether it is a movie, has alpha and sound,
    and whether sequences can be written so."""

    name: str
    label: str
    tells: str
    suffix: str
    movie: bool
    bits: int
    alpha: Literal["none", "straight", "premultiplied"]
    sound: bool
    even: bool
    sequences: bool


@router.get("/formats")
def list_formats() -> list[FormatInfo]:
    """What deliveries can be written as."""
    return [
        FormatInfo(
            name=each.name,
            label=each.label,
            tells=each.tells,
            suffix=each.suffix,
            movie=each.movie,
            bits=each.bits,
            alpha=each.alpha,
            sound=each.sound,
            even=each.even,
            sequences=each.holds not in ("passes", "lights"),
        )
        for each in FORMATS.values()
    ]


def delivery_of(row: dict) -> Delivery:  # type: ignore[type-arg]
    """A row of the store as it is told."""
    delivery = Delivery(**row)
    traced = delivery.done - delivery.kept
    if delivery.state == "rendering" and traced:
        delivery.left = round(delivery.seconds / traced * (delivery.total - delivery.done), 1)
    return delivery


class FrameCost(BaseModel):
    """Seconds for a frame, and for each million of its pixels."""

    frame: float
    million: float


class Pace(BaseModel):
    """What frames take on this machine, by quality; nothing is said while none was traced. ``own``: told by
    frames of what was asked about, not by those of others."""

    costs: dict[str, FrameCost]
    own: bool


@router.get("/deliveries/pace")
def pace(behind: Behind, of: UUID | None = None) -> Pace:
    """How fast frames were traced lately, those ``of`` a shot or sequence where there are some: what an order
    will cost."""
    rows = behind.store.rows("delivery_pace", of=of)
    own = [row for row in rows if row["own"]]
    took = [(row["pixels"], QUALITIES[row["quality"]].samples, row["seconds"]) for row in own or rows]
    cost = fitted_cost(took)
    if cost is None:
        return Pace(costs={}, own=False)
    told = {
        name: FrameCost(frame=cost.frame, million=cost.seconds(1e6, quality.samples) - cost.frame)
        for name, quality in QUALITIES.items()
    }
    return Pace(costs=told, own=bool(own))


@router.get("/deliveries")
def list_deliveries(behind: Behind) -> list[Delivery]:
    """Orders, newest first."""
    return [delivery_of(row) for row in behind.store.rows("delivery_list", id=None)]


@router.post("/shots/{shot}/deliveries", status_code=201)
def order_delivery(behind: Behind, shot: UUID, wish: NewDelivery) -> Delivery:
    """Order a delivery of the shot as it is now."""
    found = store.read_shot(behind.store, shot).shot
    order = Order(wish.first, wish.last, wish.width, wish.height, wish.quality)
    order.check(found.format.frames, named_format(wish.format))
    row = one(
        behind.store.row(
            "delivery_create",
            shot=shot,
            first=order.first,
            last=order.last,
            width=order.width,
            height=order.height,
            quality=order.quality,
            format=wish.format,
        ),
        "shot",
    )
    return begin_delivery(behind, row["id"])


def begin_delivery(behind: Behind, delivery: UUID) -> Delivery:
    """Let a worker take an order up."""
    defer_delivery(behind.jobs, delivery)
    behind.store.tell("delivery", id=str(delivery))
    return read_delivery(behind, delivery)


@router.get("/deliveries/{delivery}")
def read_delivery(behind: Behind, delivery: UUID) -> Delivery:
    """One order."""
    return delivery_of(one(behind.store.row("delivery_list", id=delivery), "delivery"))


@router.post("/deliveries/{delivery}/cancel")
def cancel_delivery(behind: Behind, delivery: UUID) -> Delivery:
    """Call it off; the frame under way stops within a moment."""
    behind.store.row("delivery_cancel", id=delivery)
    behind.store.tell("delivery", id=str(delivery))
    return read_delivery(behind, delivery)


@router.post("/deliveries/{delivery}/pause")
def pause_delivery(behind: Behind, delivery: UUID) -> Delivery:
    """Let it rest; frames that are finished are kept."""
    behind.store.row("delivery_pause", id=delivery)
    behind.store.tell("delivery", id=str(delivery))
    return read_delivery(behind, delivery)


@router.post("/deliveries/{delivery}/resume")
def resume_delivery(behind: Behind, delivery: UUID) -> Delivery:
    """Go on with one that rests, or try again what failed or was called off."""
    if behind.store.row("delivery_resume", id=delivery) is None:
        return read_delivery(behind, delivery)
    return begin_delivery(behind, delivery)


@router.post("/deliveries/{delivery}/next")
def deliver_next(behind: Behind, delivery: UUID) -> Delivery:
    """Let one that waits go before all others that do."""
    found = read_delivery(behind, delivery)
    if behind.store.row("delivery_next", id=delivery) is None:
        raise NotThere(f"this delivery is {found.state}; only one that waits can go before others")
    behind.store.tell("delivery", id=str(delivery))
    return found


@router.delete("/deliveries/{delivery}", status_code=204)
def remove_delivery(behind: Behind, delivery: UUID) -> None:
    """Take it off the list, with its file; one under way is to be called off first."""
    found = read_delivery(behind, delivery)
    if behind.store.row("delivery_remove", id=delivery) is None:
        raise NotThere(f"this delivery is {found.state}; cancel it first")
    folder = behind.data / "deliveries"
    delivered_file(folder, delivery, found.format).unlink(missing_ok=True)
    (folder / f"{delivery}.jpg").unlink(missing_ok=True)
    behind.store.tell("delivery", id=str(delivery))


@router.get("/deliveries/{delivery}/file", response_class=Response)
def download(
    behind: Behind, delivery: UUID, rule: Annotated[str, Query(min_length=1, max_length=160)] = RULE
) -> Response:
    """The finished movie, or frames in an archive, called by a ``rule``: text with places in braces for
    production, name, version, size, format, quality, frames, date and time."""
    found = read_delivery(behind, delivery)
    path = delivered_file(behind.data / "deliveries", delivery, found.format)
    if found.state != "complete" or not path.exists():
        raise NotThere(f"there is no file: this delivery is {found.state}")
    written = FORMATS[found.format]
    return FileResponse(
        path,
        media_type=written.media_type if written.movie else "application/zip",
        filename=f"{_file_name(found, rule)}{path.suffix}",
        content_disposition_type="inline" if written.movie else "attachment",
    )


def _file_name(found: Delivery, rule: str) -> str:
    facts = facts_of(
        found.production_name,
        found.name,
        found.version,
        (found.width, found.height),
        found.format,
        found.quality,
        (found.first, found.last),
        found.ended or datetime.now(UTC),
    )
    return ruled_name(rule, facts)


Codes = NDArray[np.uint8]


class Compared(BaseModel):
    """How two deliveries differ in a frame, in codes of 255: the most, the mean, and the share of pixels that
    differ by more than one."""

    most: int
    mean: float
    share: float


def _delivered(behind: Behind, delivery: UUID, number: int) -> Codes:
    found = read_delivery(behind, delivery)
    path = delivered_file(behind.data / "deliveries", delivery, found.format)
    if found.state != "complete" or not path.exists():
        raise NotThere(f"there is no file: this delivery is {found.state}")
    if number >= found.total:
        raise NotThere(f"this delivery has {found.total} frames")
    try:
        return delivered_picture(path, FORMATS[found.format], number)
    except NoPicture as why:
        raise NotThere(str(why)) from why


def _png(codes: Codes) -> Response:
    _, data = cv2.imencode(".png", codes[..., ::-1], [cv2.IMWRITE_PNG_COMPRESSION, 1])
    return Response(data.tobytes(), media_type="image/png", headers={"Cache-Control": "max-age=3600"})


Number = Annotated[int, Query(ge=0, le=200_000)]


@router.get("/deliveries/{delivery}/frames/{number}", response_class=Response)
def delivered_frame(
    behind: Behind, delivery: UUID, number: Annotated[int, Path(ge=0, le=200_000)]
) -> Response:
    """A frame of what was delivered, counted from 0, decoded again (PNG)."""
    return _png(_delivered(behind, delivery, number))


@router.get("/deliveries/{delivery}/difference/{other}", response_class=Response)
def difference_picture(
    behind: Behind,
    delivery: UUID,
    other: UUID,
    number: Number = 0,
    gain: Annotated[float, Query(ge=1, le=64)] = 8.0,
) -> Response:
    """Where two deliveries differ in a frame: how far codes are apart, times ``gain`` (PNG)."""
    return _png(
        difference(_delivered(behind, delivery, number), _delivered(behind, other, number), gain).picture
    )


@router.get("/deliveries/{delivery}/compared/{other}")
def compared(behind: Behind, delivery: UUID, other: UUID, number: Number = 0) -> Compared:
    """By how much two deliveries differ in a frame."""
    found = difference(_delivered(behind, delivery, number), _delivered(behind, other, number))
    return Compared(most=found.most, mean=found.mean, share=found.share)


@router.get("/deliveries/{delivery}/picture", response_class=Response)
def picture(behind: Behind, delivery: UUID) -> Response:
    """The frame finished last (JPEG)."""
    path = behind.data / "deliveries" / f"{delivery}.jpg"
    if not path.exists():
        raise NotThere("no frame is finished yet")
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "no-cache"})
