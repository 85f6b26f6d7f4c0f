"""What is to be delivered, and how it is written on the command line."""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path

from ..document import Shot
from ..render import QUALITIES
from .stills import still_writer

MAX_SIDE = 8192


class OrderError(ValueError):
    """An order that cannot be carried out; the text says what to change."""


@dataclass(frozen=True)
class Order:
    """What to render: first and last frame (both included), size, quality."""

    first: int
    last: int
    width: int
    height: int
    quality: str

    def check(self, shot: Shot, movie: bool = True) -> Order:
        """The order itself, or OrderError with the remedy."""
        if not 0 <= self.first <= self.last < shot.format.frames:
            raise OrderError(
                f"frames {self.first}-{self.last} are not all in the shot; choose from "
                f"0-{shot.format.frames - 1}"
            )
        if not (16 <= self.width <= MAX_SIDE and 16 <= self.height <= MAX_SIDE):
            raise OrderError(
                f"{self.width}x{self.height} is not a size we render; choose from 16 to {MAX_SIDE} pixels a "
                "side"
            )
        if movie and (self.width % 2 or self.height % 2):
            raise OrderError(f"{self.width}x{self.height} cannot become H.264; choose even numbers of pixels")
        if self.quality not in QUALITIES:
            raise OrderError(f"'{self.quality}' is not a quality; choose {', '.join(QUALITIES)}")
        return self

    @property
    def count(self) -> int:
        return self.last - self.first + 1


def parse_frames(text: str | None, shot: Shot) -> tuple[int, int]:
    """``A-B`` or ``A``; the whole shot where nothing is said."""
    if text is None:
        return 0, shot.format.frames - 1
    match = re.fullmatch(r"(\d{1,6})(?:-(\d{1,6}))?", text.strip())
    if not match:
        raise OrderError(f"'{text}' is not a range of frames; write it like 0-47")
    first = int(match[1])
    return first, int(match[2]) if match[2] else first


def parse_size(text: str | None, shot: Shot) -> tuple[int, int]:
    """``WxH``; the shot's own size where nothing is said."""
    if text is None:
        return shot.format.width, shot.format.height
    match = re.fullmatch(r"(\d{1,6})[x×](\d{1,6})", text.strip())
    if not match:
        raise OrderError(f"'{text}' is not a size; write it like 1280x720")
    return int(match[1]), int(match[2])


def is_numbered(path: Path) -> bool:
    """Whether a path names single frames; OrderError for names we cannot write."""
    numbered = re.search(r"%0?\d*d", path.name) is not None
    if numbered and still_writer(path.suffix) is None:
        raise OrderError(f"frames can be written as .png or .exr, not '{path.suffix}'")
    if not numbered and path.suffix.lower() != ".mp4":
        if still_writer(path.suffix):
            raise OrderError(f"frames need a number in their name, like {path.stem}.%05d{path.suffix}")
        raise OrderError(f"a movie is written as .mp4, frames as .png or .exr; '{path.name}' is neither")
    return numbered


def numbered_path(path: Path, frame: int) -> Path:
    """The file of a frame: its number put into the name, whatever the folders are called.

    >>> numbered_path(Path("100% done/a.%03d.png"), 7).as_posix()
    '100% done/a.007.png'
    """
    name = re.sub(r"%(0?)(\d*)d", lambda found: f"{frame:{found[1]}{found[2]}d}", path.name, count=1)
    return path.with_name(name.replace("%%", "%"))
