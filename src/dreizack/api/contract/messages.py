"""What the socket tells a tab: text frames, and the headers of binary frames that carry pictures."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel


class News(BaseModel):
    """Something changed: a shot or sequence (at which revision), a production, a delivery (how far it is), a
    solve, a file that is being read (how far)."""

    kind: Literal["shot", "sequence", "production", "delivery", "solve", "reading"]
    id: str
    revision: int | None = None
    done: int | None = None
    total: int | None = None


class Connected(BaseModel):
    """News may have been missed: look how things stand."""

    kind: Literal["connected"] = "connected"


class KeptFrame(BaseModel):
    """A frame that nobody looks at yet was traced ahead, and its picture is kept."""

    kind: Literal["kept"] = "kept"
    frame: int


class Refusal(BaseModel):
    """A wish that cannot be met: not read (refused), or not traced; ``tag`` is that of the wish."""

    kind: Literal["untraceable", "refused"]
    why: str
    tag: int | None = None


class PictureHeader(BaseModel):
    """Before the data of a traced picture: ``samples`` of ``total`` are in it; ``clipped`` is the share of
    pixels with a channel that clips."""

    kind: Literal["picture"] = "picture"
    tag: int
    revision: int
    frame: int
    width: int
    height: int
    samples: int
    total: int
    clipped: float
