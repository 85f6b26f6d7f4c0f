"""What viewers ask of the traced view, and what it tells them."""

from __future__ import annotations

from dataclasses import dataclass

from ...core.render import Answer, Window


@dataclass(frozen=True)
class Wish:
    """What a viewer wants to see: one frame of a shot at a size, up to so many samples; then so many frames
    ``ahead``.

    ``kept`` asks for the frame only if its picture is kept, as when it plays; what is ``aside`` (posters,
    chips) waits until nothing else is looked at.
    """

    viewer: str
    number: int
    shot: str
    frame: int
    width: int
    height: int
    samples: int = 16
    show: str = "picture"
    ahead: int = 0
    region: tuple[float, float, float, float] | None = None
    kept: bool = False
    aside: bool = False

    @property
    def window(self) -> Window | None:
        """The pixels of the region (left, top, width, height from 0 to 1); None for the whole picture."""
        if self.region is None:
            return None
        x, y, w, h = self.region
        left, top = int(min(x, 0.99) * self.width), int(min(y, 0.99) * self.height)
        columns, rows = max(16, round(w * self.width)), max(16, round(h * self.height))
        left, top = max(0, min(left, self.width - columns)), max(0, min(top, self.height - rows))
        return Window(left, top, min(columns, self.width), min(rows, self.height))


@dataclass(frozen=True)
class Kept:
    """A frame that nobody looks at yet was traced ahead, and its picture is kept."""

    viewer: str
    number: int
    frame: int


@dataclass(frozen=True)
class Question:
    """What is at (x, y), from 0 to 1 from the top left, of a frame of a shot?"""

    viewer: str
    number: int
    shot: str
    frame: int
    width: int
    height: int
    x: float
    y: float


@dataclass(frozen=True)
class Answered:
    """The measured answer, and what it says in words."""

    viewer: str
    number: int
    answer: Answer
    says: list[str]
    exposure: float


@dataclass(frozen=True)
class Picture:
    """A picture for a viewer: JPEG data; ``samples`` of ``total`` are in it."""

    viewer: str
    number: int
    frame: int
    width: int
    height: int
    samples: int
    total: int
    data: bytes
    clipped: float = 0.0
