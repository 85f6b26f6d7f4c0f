"""Sequences: what putting frames together costs beside the frames themselves."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from dreizack.core.document import Camera, Channel, Format, Key, Setting, Shot, Title, Vector
from dreizack.core.light import key_fill_rim
from dreizack.core.media import FORMATS, Order, ShotReel, deliver_reel
from dreizack.core.sequence import (
    TRANSITIONS,
    Bundle,
    Layout,
    Sequence,
    SequencePiece,
    SequenceReel,
    Transition,
)
from dreizack.core.sequence.transitions import Crossing
from dreizack.store.frame_cache import FrameCache

from .figure import Figure, median_ms

SIZE = (960, 540)


def measure() -> Iterator[Figure]:
    rng = np.random.default_rng(1)
    out, into = (rng.random((1080, 1920, 3)).astype(np.float32) for _ in range(2))
    coverage = np.zeros((1080, 1920), np.float32)
    coverage[400:700, 400:1500] = 1
    for kind, apply in TRANSITIONS.items():
        how = Transition(kind=kind, frames=20)  # type: ignore[arg-type]
        crossing = Crossing(out, into, 0.4, coverage)
        yield Figure(f"1080p, {kind}", median_ms(lambda a=apply, c=crossing, h=how: a(c, h)), "ms")
    line = [
        SequencePiece(shot="a", frames=100, transition=Transition(kind="dissolve", frames=10))
        for _ in range(200)
    ]
    long = Sequence(line=line)
    layout = Layout(long)
    yield Figure(
        f"{len(line)} pieces, {long.total} frames: what is seen when, of all",
        median_ms(lambda: [layout.at(frame) for frame in range(0, long.total, 20)]) * 20,
        "ms",
    )
    shot = Shot(
        format=Format(width=SIZE[0], height=SIZE[1], frames=20),
        things={"title": Title(words="EBB", setting=Setting(typeface="archivo-black")), **key_fill_rim()},
        camera=Camera(position=Vector(x=0.5, y=0.4, z=3.2), aim=Vector(x=0, y=0.25, z=0)),
    )
    shot.channels["/things/title/place/position/x"] = Channel(
        keys=[Key(frame=0, value=-0.3), Key(frame=19, value=0.3)]
    )
    pieces = [
        SequencePiece(shot="a", frames=20),
        SequencePiece(shot="a", frames=20, transition=Transition(kind="dissolve", frames=10)),
    ]
    bundle = Bundle(Sequence(width=SIZE[0], height=SIZE[1], line=pieces), {"a": shot})
    with tempfile.TemporaryDirectory() as folder:
        cache = FrameCache(Path(folder))
        alone = _seconds(ShotReel(shot, Order(0, 19, *SIZE, "draft"), cache), Path(folder) / "a.mp4")
        reel = SequenceReel(bundle, Order(0, 29, *SIZE, "draft"), cache)
        traced = sum(not picture.kept for picture in reel.pictures(lambda: False))
        yield Figure("frames traced again for a sequence of shots that were delivered", traced, "", 0)
        other = _seconds(SequenceReel(bundle, Order(0, 29, *SIZE, "draft"), cache), Path(folder) / "b.mov")
        yield Figure("a second order in another format, against tracing once", other / alone, "×")


def _seconds(reel: ShotReel | SequenceReel, path: Path) -> float:
    begun = time.perf_counter()
    deliver_reel(reel, path, FORMATS["mp4" if path.suffix == ".mp4" else "prores-422"])
    return time.perf_counter() - begun
