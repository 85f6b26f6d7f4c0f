"""Deliveries: order, watch, cancel, download."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from typing import Literal
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import FileResponse, Response

from ..core.media import Order
from ..store import NotThere
from ..store import shots as store
from ..store.shots import one
from ..work import defer_delivery
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["deliveries"], responses=PROBLEMS)


class NewDelivery(BaseModel):
    """Range (both ends included), size in pixels, quality."""

    model_config = ConfigDict(extra="forbid")
    first: int = Field(ge=0, le=200_000)
    last: int = Field(ge=0, le=200_000)
    width: int = Field(ge=16, le=8192)
    height: int = Field(ge=16, le=8192)
    quality: Literal["draft", "good", "final"] = "good"


class Delivery(BaseModel):
    """An order and how far it is; ``left`` is the time left in seconds, once it can be told."""

    id: UUID
    shot: UUID
    shot_name: str
    production_name: str
    revision: int
    first: int
    last: int
    width: int
    height: int
    quality: str
    state: Literal["waiting", "rendering", "complete", "cancelled", "failed"]
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


def _delivery(row: dict) -> Delivery:  # type: ignore[type-arg]
    delivery = Delivery(**row)
    traced = delivery.done - delivery.kept
    if delivery.state == "rendering" and traced:
        delivery.left = round(delivery.seconds / traced * (delivery.total - delivery.done), 1)
    return delivery


@router.get("/deliveries")
def list_deliveries(behind: Behind) -> list[Delivery]:
    """Orders, newest first."""
    return [_delivery(row) for row in behind.store.rows("delivery_list", id=None)]


@router.post("/shots/{shot}/deliveries", status_code=201)
def order_delivery(behind: Behind, shot: UUID, wish: NewDelivery) -> Delivery:
    """Order a delivery of the shot as it is now."""
    found = store.read_shot(behind.store, shot).shot
    order = Order(wish.first, wish.last, wish.width, wish.height, wish.quality).check(found)
    row = one(
        behind.store.row(
            "delivery_create",
            shot=shot,
            first=order.first,
            last=order.last,
            width=order.width,
            height=order.height,
            quality=order.quality,
        ),
        "shot",
    )
    defer_delivery(behind.jobs, row["id"])
    behind.store.tell("delivery", id=str(row["id"]))
    return read_delivery(behind, row["id"])


@router.get("/deliveries/{delivery}")
def read_delivery(behind: Behind, delivery: UUID) -> Delivery:
    """One order."""
    return _delivery(one(behind.store.row("delivery_list", id=delivery), "delivery"))


@router.post("/deliveries/{delivery}/cancel")
def cancel_delivery(behind: Behind, delivery: UUID) -> Delivery:
    """Call it off; the frame under way stops within a moment."""
    behind.store.row("delivery_cancel", id=delivery)
    behind.store.tell("delivery", id=str(delivery))
    return read_delivery(behind, delivery)


@router.get("/deliveries/{delivery}/file", response_class=Response)
def download(behind: Behind, delivery: UUID) -> Response:
    """The finished movie."""
    found = read_delivery(behind, delivery)
    path = behind.data / "deliveries" / f"{delivery}.mp4"
    if found.state != "complete" or not path.exists():
        raise NotThere(f"there is no file: this delivery is {found.state}")
    words = re.sub(r"[^A-Za-z0-9]+", "-", f"{found.production_name} {found.shot_name}").strip("-").lower()
    stamp = (found.ended or datetime.now(UTC)).strftime("%Y%m%d-%H%M")
    return FileResponse(
        path,
        media_type="video/mp4",
        filename=f"{words or 'shot'}-{stamp}.mp4",
        content_disposition_type="inline",
    )


@router.get("/deliveries/{delivery}/picture", response_class=Response)
def picture(behind: Behind, delivery: UUID) -> Response:
    """The frame finished last (JPEG)."""
    path = behind.data / "deliveries" / f"{delivery}.jpg"
    if not path.exists():
        raise NotThere("no frame is finished yet")
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "no-cache"})
