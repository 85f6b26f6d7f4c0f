"""``dreizack render --out FOLDER/``: every format of every version, each a file called by a rule."""

from __future__ import annotations

import argparse
import tempfile
from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from ..core.document import Shot, ShotFileError, read_shot
from ..core.library import shelve
from ..core.media import (
    DeliveryFormat,
    FilesLost,
    FormatError,
    FramesFailed,
    Order,
    OrderError,
    Reel,
    ShotReel,
    check_rule,
    deliver_reel,
    facts_of,
    named_format,
    parse_frames,
    parse_size,
    ruled_name,
)
from ..core.sequence import (
    Bundle,
    SequenceFileError,
    SequenceReel,
    Version,
    read_bundle,
    versioned,
)
from ..core.sequence.framing import in_shape
from ..store.frame_cache import FrameCache
from .places import data_folder
from .telling import refuse, told_progress


def render_all(chosen: argparse.Namespace) -> int:
    """Exit status 0 when all files are complete, 1 with a sentence on standard error otherwise; what was
    refused is refused before anything is rendered."""
    source, folder = Path(chosen.shot), Path(chosen.out)
    try:
        check_rule(chosen.names)
        formats = [named_format(name.strip()) for name in (chosen.format or "mp4").split(",")]
        shelve(source.resolve().parent / "library")
        shelve(data_folder() / "library")
        data = source.read_bytes()
        is_sequence = b'"dreizack_sequence"' in data[:200]
        given: Bundle | Shot = read_bundle(data) if is_sequence else read_shot(data)
        orders = list(_orders(given, formats, chosen))
        paths = [_path(folder, given, one, chosen) for one in orders]
        twice = next((path for path in paths if paths.count(path) > 1), None)
        if twice is not None:
            raise OrderError(f"several files would be called {twice.name}; let --names tell them apart")
        folder.mkdir(parents=True, exist_ok=True)
        # What several files show is traced once.
        with tempfile.TemporaryDirectory(prefix="frames-", dir=folder) as beside:
            kept = FrameCache(Path(beside))
            for (version, order, written), path in zip(orders, paths, strict=True):
                reel = _reel(given, version, order, kept)
                with told_progress(chosen.progress, path.stem, order.count) as tell:
                    deliver_reel(reel, path, written, tell)
                print(f"{path}: {order.count} frames, {order.width}x{order.height}, {written.label}")
    except (ShotFileError, SequenceFileError) as why:
        return refuse(f"{source}: {why}.")
    except (FormatError, FilesLost, FramesFailed) as why:
        return refuse(f"{why}.")
    except OSError as why:
        return refuse(f"{why.filename or folder}: {why.strerror or why}.")
    return 0


Ordered = tuple[Version | None, Order, DeliveryFormat]


def _orders(
    given: Bundle | Shot, formats: list[DeliveryFormat], chosen: argparse.Namespace
) -> Iterator[Ordered]:
    """What is to be rendered, checked."""
    if isinstance(given, Shot):
        if chosen.versions:
            raise OrderError("a shot has no versions; they belong to a sequence")
        frames, own = given.format.frames, (given.format.width, given.format.height)
        order = Order(*parse_frames(chosen.frames, frames), *parse_size(chosen.size, own), chosen.quality)
        yield from ((None, order.check(frames, written), written) for written in formats)
        return
    sequence = given.sequence
    original = Version(name="original", width=sequence.width, height=sequence.height)
    known = {version.name: version for version in sequence.versions}
    if chosen.versions == "all":
        versions = list(known.values())
    else:
        wanted = [name.strip() for name in chosen.versions.split(",") if name.strip()]
        lacking = next((name for name in wanted if name not in known), None)
        if lacking is not None:
            there = ", ".join(known) or "none"
            raise OrderError(f"there is no version '{lacking[:60]}'; there are {there[:400]}")
        versions = [known[name] for name in wanted]
    first, last = parse_frames(chosen.frames, sequence.total)
    for version in versions or [original]:
        own = version.width, version.height
        size = (
            in_shape(parse_size(chosen.size, own), own)
            if version is not original
            else parse_size(chosen.size, own)
        )
        order = Order(first, last, *size, chosen.quality)
        yield from ((version, order.check(sequence.total, each, "sequence"), each) for each in formats)


def _reel(given: Bundle | Shot, version: Version | None, order: Order, kept: FrameCache) -> Reel:
    if isinstance(given, Shot):
        return ShotReel(given, order, kept)
    return SequenceReel(versioned(given, version) if version is not None else given, order, kept)


def _path(folder: Path, given: Bundle | Shot, one: Ordered, chosen: argparse.Namespace) -> Path:
    version, order, written = one
    name = given.name if isinstance(given, Shot) else given.sequence.name
    told = "" if version is None or version.name == "original" else version.name
    facts = facts_of(
        "",
        name,
        told,
        (order.width, order.height),
        written.name,
        order.quality,
        (order.first, order.last),
        datetime.now(),
    )
    stem = ruled_name(chosen.names, replace(facts, production=name))
    return folder / f"{stem}{written.suffix if written.movie else '.%05d' + written.suffix}"
