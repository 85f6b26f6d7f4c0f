"""One socket a tab: what changed, and the traced pictures as they sharpen."""

from __future__ import annotations

import asyncio
import contextlib
import json
import struct
from typing import Annotated, Any, Literal
from uuid import UUID, uuid4

import psycopg
from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..store import NotThere
from ..store.shots import read_shot
from ..work.looking import Kept, Picture
from .services import Services

router = APIRouter()

Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class TraceWish(BaseModel):
    """What a tab sends: trace this frame of this shot at this size; without a shot: stop. ``kept``: only if its picture is kept."""

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
        self.sockets: set[asyncio.Queue[Any]] = set()
        self._listening: asyncio.Task[None] | None = None

    async def open(self, behind: Services) -> None:
        self._listening = asyncio.create_task(self._listen())

    async def close(self) -> None:
        if self._listening:
            self._listening.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await self._listening

    async def _listen(self) -> None:
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(self.address, autocommit=True) as connection:
                    await connection.execute("LISTEN dreizack")
                    async for notice in connection.notifies():
                        for queue in self.sockets:
                            queue.put_nowait(notice.payload)
            except psycopg.OperationalError:
                await asyncio.sleep(1)


@router.websocket("/live")
async def live(socket: WebSocket) -> None:
    """Text frames tell what changed; binary frames carry pictures (header length, header, JPEG)."""
    await socket.accept()
    behind: Services = socket.app.state.services
    viewer, queue = f"tab {uuid4()}", asyncio.Queue[Any]()
    behind.hub.sockets.add(queue)
    sender = asyncio.create_task(_send(socket, queue))
    try:
        while True:
            await _heed(behind, viewer, queue, await socket.receive_text())
    except (WebSocketDisconnect, RuntimeError):
        pass
    finally:
        behind.hub.sockets.discard(queue)
        behind.views.forget(viewer)
        sender.cancel()


async def _heed(behind: Services, viewer: str, queue: asyncio.Queue[Any], text: str) -> None:
    try:
        wish = TraceWish.model_validate_json(text[:4000])
        if wish.shot is None:
            behind.views.forget(viewer)
            return
        row = await asyncio.to_thread(read_shot, behind.store, wish.shot)
    except (ValidationError, NotThere) as why:
        queue.put_nowait(json.dumps({"kind": "refused", "why": str(why)[:400]}))
        return
    frame = min(wish.frame, row.shot.format.frames - 1)

    def receive(message: Any) -> None:
        if isinstance(message, Picture):
            queue.put_nowait((wish.tag, row.revision, message))
        elif isinstance(message, Kept):
            queue.put_nowait(json.dumps({"kind": "kept", "frame": message.frame}))
        else:
            queue.put_nowait(json.dumps({"kind": "untraceable", "tag": wish.tag, "why": message[2]}))

    behind.views.wish(viewer, receive, row.shot.model_dump_json(), frame, wish.width, wish.height, wish.samples, wish.show, wish.ahead, wish.region, wish.kept)


async def _send(socket: WebSocket, queue: asyncio.Queue[Any]) -> None:
    with contextlib.suppress(WebSocketDisconnect, RuntimeError):
        while True:
            item = await queue.get()
            if isinstance(item, str):
                await socket.send_text(item)
                continue
            tag, revision, picture = item
            header = json.dumps({
                "kind": "picture", "tag": tag, "revision": revision, "frame": picture.frame, "width": picture.width,
                "height": picture.height, "samples": picture.samples, "total": picture.total, "clipped": picture.clipped,
            }).encode()
            await socket.send_bytes(struct.pack("<I", len(header)) + header + picture.data)
