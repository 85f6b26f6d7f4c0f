"""``dreizack render``: a shot file to a movie or frames with the core alone."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

from tqdm import tqdm

from ..core.document import ShotFileError, read_shot
from ..core.library import shelve
from ..core.media import Order, OrderError, Progress, deliver, parse_frames, parse_size
from ..core.media.order import is_numbered
from .places import data_folder


def render(shot_file: str, out: str, frames: str | None, size: str | None, quality: str) -> int:
    """Exit status 0 when the file is complete, 1 with a sentence on standard error otherwise."""
    source, target = Path(shot_file), Path(out)
    try:
        shot = read_shot(source.read_bytes())
        # Typefaces, pictures and meshes a shot needs lie beside it, or where the application keeps them.
        shelve(source.resolve().parent / "library")
        shelve(data_folder() / "library")
        numbered = is_numbered(target)
        order = Order(*parse_frames(frames, shot), *parse_size(size, shot), quality).check(
            shot, movie=not numbered
        )
        if not target.parent.is_dir():
            raise OrderError(f"the folder {target.parent} does not exist; create it first")
        with tqdm(total=order.count, unit="frame", desc=shot.name, file=sys.stderr) as bar:

            def watch(progress: Progress, picture: Any) -> None:
                bar.update(1)

            deliver(shot, order, target, watch=watch)
    except ShotFileError as why:
        return _refuse(f"{source}: {why}.")
    except OrderError as why:
        return _refuse(f"{why}.")
    except OSError as why:
        return _refuse(f"{why.filename or target}: {why.strerror or why}.")
    print(f"{target}: {order.count} frames, {order.width}x{order.height}, {quality}")
    return 0


def _refuse(sentence: str) -> int:
    print(f"dreizack: {sentence}", file=sys.stderr)
    return 1
