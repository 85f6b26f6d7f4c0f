"""Keys to values over all frames and letters."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

import numpy as np

from dreizack.core.document import Channel, Ease, Format, Key, LetterSet, Pose, Shot, Timing, Title
from dreizack.core.light import key_fill_rim
from dreizack.core.motion import Instants, sample
from dreizack.core.render import Stage
from dreizack.core.scene import BodyStore, bake, frame_state

from .figure import Figure, median_ms


def measure() -> Iterator[Figure]:
    rng = np.random.default_rng(5)
    frames = np.arange(300.0)
    channels = [
        Channel(
            keys=[
                Key(frame=f, value=float(rng.normal()), ease=Ease(kind=k))
                for f, k in zip(
                    (0, 60, 120, 200, 299),
                    ("cubic-bezier", "linear", "cubic-bezier", "hold", "linear"),
                    strict=True,
                )
            ]
        )  # type: ignore[arg-type]
        for _ in range(12)
    ]
    # A letter sees every channel a stagger later.
    # an even one, as most are, and the worst case: no two letters ever at the same moment.
    for name, delays in (
        ("even stagger", np.arange(100.0) * 0.8),
        ("random stagger", rng.uniform(0, 80, 100)),
    ):
        times = frames[None, :] - delays[:, None]

        def bake(times: np.ndarray = times) -> None:
            instants = Instants(times)
            for channel in channels:
                sample(channel, instants)

        yield Figure(f"300 frames × 100 letters × 12 values baked, {name}", median_ms(bake), "ms", 30)
    yield from posed_letters()
    yield from stacked_staggers()
    yield from many_letters()


WORDS = "SLACK WATER\nTHE CREW OF THE\nMARROW LIGHT ON THE\nORRISUND"


def posed_letters() -> Iterator[Figure]:
    """A title of forty letters, each with a keyed pose, over 500 frames."""
    title = Title(words=WORDS)
    sources = [i for i, c in enumerate(WORDS) if not c.isspace()][:40]
    title.setting.poses = {f"letter-{i}": Pose() for i in sources}
    keys = [Key(frame=0, value=0.4), Key(frame=480, value=0.0)]
    channels = {f"/things/title/setting/poses/letter-{i}/move/z": Channel(keys=keys) for i in sources}
    shot = Shot(format=Format(frames=500), things={"title": title, **key_fill_rim()}, channels=channels)
    edited = key_edits(shot)
    yield Figure(
        "40 letters with a keyed pose each, 500 frames baked", median_ms(lambda: bake(next(edited))), "ms", 20
    )
    baked, bodies = bake(shot), BodyStore()
    stage = Stage(bodies)
    states = [frame_state(shot, baked, frame) for frame in range(0, 500, 20)]
    stage.show(states[0])
    built, scene, turn = bodies.mark(), stage.scene, iter(states[1:] * 9)
    yield Figure("a frame of it on stage", median_ms(lambda: stage.show(next(turn))), "ms", 40)
    made = (bodies.mark() - built) + (stage.scene is not scene)
    yield Figure("bodies and scenes made for other frames", float(made), "", 0)


def stacked_staggers() -> Iterator[Figure]:
    """A hundred letters in three sets, four keyed values each, every letter at its own time."""
    words = "EBB FLOWS " * 13
    title = Title(words=words[:112], sets=[LetterSet(rule="every", step=1) for _ in range(3)])
    channels = {}
    for number, order in enumerate(("reading", "from the middle", "random")):
        title.sets[number].timing = Timing(order=order, delay=0.8)  # type: ignore[arg-type]
        for name in ("move/x", "move/z", "turn/y", "scale"):
            keys = [Key(frame=0, value=0.5), Key(frame=40, value=1.0), Key(frame=90, value=0.8)]
            channels[f"/things/title/sets/{number}/{name}"] = Channel(keys=keys)
    shot = Shot(format=Format(frames=300), things={"title": title}, channels=channels)
    edited = key_edits(shot)
    yield Figure(
        "300 frames × 100 letters × 3 stacked staggers baked", median_ms(lambda: bake(next(edited))), "ms", 30
    )


def many_letters() -> Iterator[Figure]:
    """Two hundred letters of a set with eight keyed values, each letter at its own time, over 2000 frames."""
    words = "\n".join(["SLACKWATERSLACKWATER"] * 10)
    title = Title(words=words, sets=[LetterSet(timing=Timing(order="reading", delay=4))])
    keys = [Key(frame=0, value=0.4), Key(frame=480, value=0.0)]
    names = ("move/x", "move/y", "move/z", "turn/x", "turn/y", "turn/z", "scale", "opacity")
    channels = {f"/things/title/sets/0/{name}": Channel(keys=keys) for name in names}
    things = {"title": title, **key_fill_rim()}
    shot = Shot(format=Format(frames=2000), things=things, channels=channels)
    edited = key_edits(shot)
    name = "2000 frames × 200 letters × 8 values after an edit"
    yield Figure(f"{name} of one of them", median_ms(lambda: bake(next(edited))), "ms", 15)
    yield Figure(f"{name} of anything else", median_ms(lambda: bake(shot)), "ms", 15)


def key_edits(shot: Shot) -> Iterator[Shot]:
    """A shot whose first keyed value is another one each time."""
    pointer = next(iter(shot.channels))
    keys = shot.channels[pointer].keys
    for turn in itertools.count(1):
        first = keys[0].model_copy(update={"value": keys[0].value + turn / 1000})
        changed = {**shot.channels, pointer: Channel(keys=[first, *keys[1:]])}
        yield shot.model_copy(update={"channels": changed})
