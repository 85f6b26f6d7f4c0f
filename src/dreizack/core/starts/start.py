"""What a start is, and a shot made by one."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ..document import Format, Shot, Title
from ..light import key_fill_rim
from ..scene import BodyStore, frame_titles

# So much of the picture the words take up.
FILLS = 0.72


@dataclass(frozen=True)
class Start:
    """A whole look, named by how it looks: ``dress`` changes a shot whose words are lit as any new title's
    are, and may change where it is seen from."""

    name: str
    label: str
    tells: str
    dress: Callable[[Shot, Title], None]


def started(start: Start, words: str, format_: Format, name: str) -> Shot:
    """A new shot with these words, dressed and framed."""
    title = Title(words=words)
    shot = Shot(name=name, format=format_, things={"title": title, **key_fill_rim()})
    start.dress(shot, title)
    framed = frame_titles(shot, BodyStore(), 0, FILLS)
    if framed:
        shot.camera.position, shot.camera.aim = framed
    return Shot.model_validate(shot.model_dump())
