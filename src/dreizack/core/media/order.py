"""What is to be delivered, and how it is written on the command line."""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path

from ..render import QUALITIES
from .formats import DeliveryFormat, FormatError

MAX_SIDE = 8192


class OrderError(FormatError):
    """An order that cannot be carried out; the text says what to change."""


@dataclass(frozen=True)
class Order:
    """What to render: first and last frame (both included), size, quality."""

    first: int
    last: int
    width: int
    height: int
    quality: str

    def check(self, frames: int, written: DeliveryFormat, what: str = "shot") -> Order:
        """The order itself, of something so many ``frames`` long, or OrderError with the remedy."""
        if not 0 <= self.first <= self.last < frames:
            raise OrderError(
                f"frames {self.first}-{self.last} are not all in the {what}; choose from 0-{frames - 1}"
            )
        if not (16 <= self.width <= MAX_SIDE and 16 <= self.height <= MAX_SIDE):
            raise OrderError(
                f"{self.width}x{self.height} is not a size we render; choose from 16 to {MAX_SIDE} pixels a "
                "side"
            )
        if written.even and (self.width % 2 or self.height % 2):
            raise OrderError(
                f"{self.width}x{self.height} cannot become {written.label}; choose even numbers of pixels"
            )
        if what == "sequence" and written.traces:
            raise OrderError(
                f"{written.label} can only be written of a single shot; order the shots one by one"
            )
        if self.quality not in QUALITIES:
            raise OrderError(f"'{self.quality}' is not a quality; choose {', '.join(QUALITIES)}")
        return self

    @property
    def count(self) -> int:
        return self.last - self.first + 1


def parse_frames(text: str | None, frames: int) -> tuple[int, int]:
    """``A-B`` or ``A``; all ``frames`` where nothing is said."""
    if text is None:
        return 0, frames - 1
    match = re.fullmatch(r"(\d{1,6})(?:-(\d{1,6}))?", text.strip())
    if not match:
        raise OrderError(f"'{text}' is not a range of frames; write it like 0-47")
    first = int(match[1])
    return first, int(match[2]) if match[2] else first


def parse_size(text: str | None, own: tuple[int, int]) -> tuple[int, int]:
    """``WxH``; the ``own`` size where nothing is said."""
    if text is None:
        return own
    match = re.fullmatch(r"(\d{1,6})[x×](\d{1,6})", text.strip())
    if not match:
        raise OrderError(f"'{text}' is not a size; write it like 1280x720")
    return int(match[1]), int(match[2])


def is_numbered(path: Path) -> bool:
    """Whether a path names single frames."""
    return re.search(r"%0?\d*d", path.name) is not None


def check_name(path: Path, written: DeliveryFormat) -> None:
    """OrderError where a file's name does not fit a format."""
    numbered = is_numbered(path)
    if written.movie and numbered:
        raise OrderError(f"{written.label} is one file; leave the number out of '{path.name}'")
    if not written.movie and not numbered and path.suffix != ".zip":
        raise OrderError(f"frames need a number in their name, like {path.stem}.%05d{path.suffix}")


def numbered_path(path: Path, frame: int) -> Path:
    """The file of a frame: its number put into the name, whatever the folders are called.

    >>> numbered_path(Path("100% done/a.%03d.png"), 7).as_posix()
    '100% done/a.007.png'
    """
    name = re.sub(r"%(0?)(\d*)d", lambda found: f"{frame:{found[1]}{found[2]}d}", path.name, count=1)
    return path.with_name(name.replace("%%", "%"))
