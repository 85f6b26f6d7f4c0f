"""One socket a tab: what changed, and the traced pictures as they sharpen."""

from __future__ import annotations

import asyncio
import contextlib
import logging
import struct
from typing import Annotated, Any, Literal
from uuid import UUID, uuid4

import psycopg
from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from psycopg_pool import PoolTimeout
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..store import NotThere
from ..store.shots import read_shot
from ..work.preview import Kept, Picture
from .contract import Connected, KeptFrame, PictureHeader, Refusal
from .outbox import Outbox, Overflow
from .services import Services

LOG = logging.getLogger(__name__)
router = APIRouter()
# Seconds between tries to listen to the database again.
RETRY = 1.0

Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class TraceWish(BaseModel):
    """What a tab sends: trace this frame of this shot at this size; without a shot: stop. ``kept``: only if
    its picture is kept."""

    model_config = ConfigDict(extra="forbid")
    shot: UUID | None = None
    frame: int = Field(0, ge=0, le=200_000)
    width: int = Field(960, ge=16, le=3840)
    height: int = Field(540, ge=16, le=3840)
    samples: int = Field(16, ge=2, le=256)
    tag: int = Field(0, ge=0)
    show: Literal["picture", "clipping", "false colour", "albedo", "normal", "depth", "parts"] = "picture"
    ahead: int = Field(0, ge=0, le=2000)
    region: tuple[Share, Share, Share, Share] | None = None
    kept: bool = False


class Hub:
    """Passes what PostgreSQL tells on to every socket."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.sockets: set[Outbox] = set()
        self._listening: asyncio.Task[None] | None = None

    async def open(self, behind: Services) -> None:
        self._listening = asyncio.create_task(self._listen())

    async def close(self) -> None:
        if self._listening:
            self._listening.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await self._listening

    async def _listen(self) -> None:
        missed = False
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(self.address, autocommit=True) as connection:
                    await connection.execute("LISTEN dreizack")
                    if missed:
                        self._tell(Connected().model_dump_json())
                    async for notice in connection.notifies():
                        self._tell(notice.payload)
            except psycopg.OperationalError:
                await asyncio.sleep(RETRY)
            except Exception:
                # Whatever it was, nobody would hear any news again without this task.
                LOG.exception("listening for news failed; trying again")
                await asyncio.sleep(RETRY)
            # What was told while nobody listened is lost: everybody should look how things stand.
            missed = True

    def _tell(self, text: str) -> None:
        for outbox in self.sockets:
            outbox.tell(text)


@router.websocket("/live")
async def live(socket: WebSocket) -> None:
    """Text frames tell what changed; binary frames carry pictures (header length, header, JPEG)."""
    await socket.accept()
    behind: Services = socket.app.state.services
    viewer, outbox = f"tab {uuid4()}", Outbox()
    behind.hub.sockets.add(outbox)
    sender = asyncio.create_task(_send(socket, outbox))
    try:
        while True:
            message = await socket.receive()
            if message["type"] == "websocket.disconnect":
                break
            await _heed(behind, viewer, outbox, message.get("text") or "")
    except (WebSocketDisconnect, RuntimeError):
        pass
    finally:
        behind.hub.sockets.discard(outbox)
        behind.views.forget(viewer)
        sender.cancel()


async def _heed(behind: Services, viewer: str, outbox: Outbox, text: str) -> None:
    try:
        wish = TraceWish.model_validate_json(text)
        if wish.shot is None:
            behind.views.forget(viewer)
            return
        row = await asyncio.to_thread(read_shot, behind.store, wish.shot)
    except ValidationError as faults:
        first = faults.errors(include_url=False)[0]
        at = "/" + "/".join(str(step) for step in first["loc"])
        outbox.tell(refused(f"this wish cannot be read: at {at}: {first['msg']}"))
        return
    except NotThere as why:
        outbox.tell(refused(str(why)))
        return
    except (psycopg.OperationalError, PoolTimeout):
        outbox.tell(refused("the database does not answer; look again in a moment"))
        return
    frame = min(wish.frame, row.shot.format.frames - 1)

    def receive(message: Any) -> None:
        if isinstance(message, Picture):
            outbox.show((wish.tag, row.revision, message))
        elif isinstance(message, Kept):
            outbox.tell(KeptFrame(frame=message.frame).model_dump_json())
        else:
            outbox.tell(Refusal(kind="untraceable", tag=wish.tag, why=message[2]).model_dump_json())

    behind.views.wish(
        viewer,
        receive,
        row.shot.model_dump_json(),
        frame,
        wish.width,
        wish.height,
        wish.samples,
        wish.show,
        wish.ahead,
        wish.region,
        wish.kept,
    )


def refused(why: str) -> str:
    return Refusal(kind="refused", why=why).model_dump_json()


async def _send(socket: WebSocket, outbox: Outbox) -> None:
    with contextlib.suppress(WebSocketDisconnect, RuntimeError):
        while True:
            try:
                item = await outbox.take()
            except Overflow:
                await socket.close(1013, "too slow: connect again")
                return
            if isinstance(item, str):
                await socket.send_text(item)
                continue
            tag, revision, picture = item
            header = PictureHeader(
                tag=tag,
                revision=revision,
                frame=picture.frame,
                width=picture.width,
                height=picture.height,
                samples=picture.samples,
                total=picture.total,
                clipped=picture.clipped,
            ).model_dump_json()
            text = header.encode()
            await socket.send_bytes(struct.pack("<I", len(text)) + text + picture.data)
