"""Files as a library keeps them, read to their end as what they say they are."""

from __future__ import annotations

import io
import wave
from pathlib import Path

from ..sandbox import Unreadable
from ..sound.rate import RATE


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
