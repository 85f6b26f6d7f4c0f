"""Files of a library that come from elsewhere: read once in a sandbox before anything here trusts them."""

from __future__ import annotations

import io
import re
import wave
from pathlib import Path

from ..lettering import bring_file
from ..library import adopt
from ..sandbox import FileRefused, Unreadable, sandboxed
from ..sound.rate import RATE

# Endings of what a library holds, with how long (seconds) and in how much memory (megabytes) each is read.
ENDINGS: dict[str, tuple[int, int]] = {
    "png": (20, 1500),
    "panorama": (20, 1500),
    "clip": (300, 2500),
    "mesh": (20, 2500),
    "solve": (30, 2500),
    "track": (20, 1500),
    "wav": (20, 1500),
    "cube": (20, 1500),
    "font": (20, 1500),
}
NAME = re.compile(r"([a-z0-9][a-z0-9-]{0,79})\.([a-z0-9]{1,8})")
# Bytes of one file.
MOST = 8_000_000_000


def take_file(source: Path, name: str, folder: Path) -> str:
    """Put a file that lies in ``folder`` on that shelf, once it was read in a sandbox as what its name says
    it is; the name it has there.

    FileRefused where it is none of the kinds a library holds, or cannot be read.
    """
    found = NAME.fullmatch(name)
    ending = found[2] if found else ""
    if found is None or ending not in ENDINGS:
        raise FileRefused(f"'{name[:60]}' is nothing that a library holds")
    if source.stat().st_size > MOST:
        raise FileRefused(f"'{name[:60]}' is larger than a file of a library may be")
    seconds, megabytes = ENDINGS[ending]
    try:
        if ending == "font":
            (made, *_) = bring_file(source.read_bytes(), folder)
            return f"{made.name}.font"
        sandboxed(
            f"{__name__}:looked_at",
            source,
            what=f"'{name[:60]}'",
            seconds=seconds,
            megabytes=megabytes,
            kind=ending,
        )
    except FileRefused as why:
        raise FileRefused(f"'{name[:60]}': {why}") from None
    # What it was called before its own content named it.
    stem = re.sub(r"-?[0-9a-f]{20}$", "", found[1])
    return adopt(folder, source, ending, stem)


def looked_at(path: str, kind: str) -> bytes:
    """In the sandbox: read a file to its end as what it is; Unreadable where it is not."""
    file = Path(path)
    try:
        _READERS[kind](file)
    except Unreadable:
        raise
    except Exception as why:
        raise Unreadable("it is damaged, or no file of this kind") from why
    return b"sound"


def _png(file: Path) -> None:
    from ..artwork.trace import read_picture

    read_picture(file.read_bytes())


def _panorama(file: Path) -> None:
    import numpy as np

    picture = np.load(file, allow_pickle=False)
    rows, columns, channels = picture.shape
    if channels != 3 or columns != 2 * rows or rows > 4096 or not np.isfinite(picture).all():
        raise Unreadable("it is no panorama")


def _clip(file: Path) -> None:
    import av

    with av.open(str(file), "r") as movie:
        stream = movie.streams.video[0]
        stream.thread_type = "AUTO"
        size = {(frame.width, frame.height) for frame in movie.decode(stream)}
    if len(size) != 1:
        raise Unreadable("it has no frames, or frames of several sizes")


def _mesh(file: Path) -> None:
    import numpy as np

    from ..artwork.meshes import unpacked

    for position, normal, uv, triangles in unpacked(file.read_bytes()).parts:
        sound = all(np.isfinite(array).all() for array in (position, normal, uv))
        if not sound or (len(triangles) and int(triangles.max()) >= len(position)):
            raise Unreadable("it is a mesh that does not agree with itself")


def _solve(file: Path) -> None:
    from ..match import read_solve

    read_solve(file)


def _track(file: Path) -> None:
    from ..match import read_followed

    read_followed(file)


def _wav(file: Path) -> None:
    with wave.open(io.BytesIO(file.read_bytes())) as sound:
        shape = (sound.getnchannels() in (1, 2), sound.getsampwidth(), sound.getframerate())
        if shape != (True, 2, RATE) or sound.getnframes() < 1:
            raise Unreadable("it is no sound as a library keeps it")
        sound.readframes(sound.getnframes())


def _cube(file: Path) -> None:
    from ..optics import read_cube

    read_cube(file.read_bytes())


_READERS = {
    "png": _png,
    "panorama": _panorama,
    "clip": _clip,
    "mesh": _mesh,
    "solve": _solve,
    "track": _track,
    "wav": _wav,
    "cube": _cube,
}
