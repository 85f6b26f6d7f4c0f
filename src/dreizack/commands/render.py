"""``dreizack render``: a shot or sequence file to a movie or frames with the core alone."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from ..core.document import ShotFileError, read_shot
from ..core.exchange.scene import scene_file
from ..core.files import write_whole
from ..core.library import shelve
from ..core.media import (
    FilesLost,
    FormatError,
    FramesFailed,
    Order,
    OrderError,
    Reel,
    ShotReel,
    chosen_format,
    deliver_reel,
    parse_frames,
    parse_size,
)
from ..core.media.order import check_name
from ..core.sequence import SequenceFileError, SequenceReel, read_bundle
from .places import data_folder
from .render_all import render_all
from .telling import refuse, told_progress


def render(chosen: argparse.Namespace) -> int:
    """Exit status 0 when the file is complete, 1 with a sentence on standard error otherwise."""
    source, target = Path(chosen.shot), Path(chosen.out)
    if target.suffix.lower() in (".glb", ".usdc", ".usda"):
        return _scene(source, target)
    if chosen.out.endswith("/") or target.is_dir():
        return render_all(chosen)
    try:
        if chosen.versions:
            raise OrderError("versions are files of their own: let --out be a folder, like out/")
        written = chosen_format(chosen.format, target.suffix)
        check_name(target, written)
        # Typefaces, pictures and meshes a shot needs lie beside it, or where the application keeps them.
        shelve(source.resolve().parent / "library")
        shelve(data_folder() / "library")
        name, reel = _reel(source.read_bytes(), chosen, written)
        if not target.parent.is_dir():
            raise OrderError(f"the folder {target.parent} does not exist; create it first")
        with told_progress(chosen.progress, name, reel.order.count) as tell:
            deliver_reel(reel, target, written, tell)
    except (ShotFileError, SequenceFileError) as why:
        return refuse(f"{source}: {why}.")
    except (FormatError, FilesLost, FramesFailed) as why:
        return refuse(f"{why}.")
    except OSError as why:
        return refuse(f"{why.filename or target}: {why.strerror or why}.")
    order = reel.order
    print(f"{target}: {order.count} frames, {order.width}x{order.height}, {order.quality}, {written.label}")
    return 0


def _scene(source: Path, target: Path) -> int:
    """A shot as a 3D scene."""
    try:
        shelve(source.resolve().parent / "library")
        shelve(data_folder() / "library")
        shot, kind = read_shot(source.read_bytes()), target.suffix.lower()[1:]
        if kind == "glb":
            write_whole(target, scene_file(shot))
        else:
            # It is large, and few ask for it.
            from ..core.exchange.scene.usd import usd_file

            write_whole(target, usd_file(shot, kind))
    except ShotFileError as why:
        return refuse(f"{source}: {why}.")
    except OSError as why:
        return refuse(f"{why.filename or target}: {why.strerror or why}.")
    print(f"{target}: a 3D scene ({'glTF 2.0' if kind == 'glb' else 'USD'})")
    return 0


def _reel(data: bytes, chosen: argparse.Namespace, written: Any) -> tuple[str, Reel]:
    """What a file holds, ordered as the command says."""
    if b'"dreizack_sequence"' in data[:200]:
        bundle = read_bundle(data)
        sequence = bundle.sequence
        frames, own = sequence.total, (sequence.width, sequence.height)
        order = Order(*parse_frames(chosen.frames, frames), *parse_size(chosen.size, own), chosen.quality)
        return sequence.name, SequenceReel(bundle, order.check(frames, written, "sequence"))
    shot = read_shot(data)
    frames, own = shot.format.frames, (shot.format.width, shot.format.height)
    order = Order(*parse_frames(chosen.frames, frames), *parse_size(chosen.size, own), chosen.quality)
    return shot.name, ShotReel(shot, order.check(frames, written))
