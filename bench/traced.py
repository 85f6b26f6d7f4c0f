"""The traced view: how soon a picture is there, how soon it is clean, how soon an old one stops."""

from __future__ import annotations

import statistics
import time
from collections.abc import Iterator
from multiprocessing.connection import Connection
from pathlib import Path

from dreizack.demo import demo_shots
from dreizack.work.preview import Picture, Wish, start_preview

from .figure import Figure


def measure() -> Iterator[Figure]:
    shot = demo_shots()["main-title"]
    process, pipe = start_preview(Path("/nonexistent"))
    number = 0

    def wish(width: int, height: int) -> tuple[float, float]:
        """Seconds to the first and to the clean picture after an edit."""
        nonlocal number
        number += 1
        shot.things["title"].place.rotation.z = number * 0.1
        asked = time.perf_counter()
        pipe.send(Wish("bench", number, shot.model_dump_json(), 80, width, height, 16))
        first = None
        while True:
            picture = receive(pipe, number)
            first = first or time.perf_counter() - asked
            if picture.samples >= picture.total:
                return first, time.perf_counter() - asked

    wish(480, 270), wish(960, 540)
    small, large = [wish(480, 270) for _ in range(5)], [wish(960, 540) for _ in range(3)]
    yield Figure(
        "first traced picture at 480×270 after an edit", statistics.median(s[0] for s in small), "s", 0.7
    )
    yield Figure("first traced picture at 960×540 after an edit", statistics.median(s[0] for s in large), "s")
    yield Figure(
        "clean traced picture at 960×540 after an edit", statistics.median(s[1] for s in large), "s", 4
    )
    yield Figure(
        "an edit stops the old picture within, worst of 24",
        worst_stop(pipe, shot.model_dump_json(), number),
        "ms",
        100,
    )
    pipe.send(None)
    process.join(timeout=10)


def receive(pipe: Connection, number: int) -> Picture:
    while True:
        message = pipe.recv()
        if isinstance(message, tuple):
            raise RuntimeError(message[2])
        if message.number == number:
            return message


def worst_stop(pipe: Connection, shot: str, number: int) -> float:
    """Milliseconds until the process turns to what came after a large picture that was called off.

    With the new wish of the same viewer goes a broken one of another, which is answered the moment it is
    read.
    """
    worst = 0.0
    pipe.send(Wish("bench", number + 1, shot, 80, 960, 540, 64))
    for i in range(24):
        time.sleep(0.4 + i * 0.07)
        while pipe.poll():
            pipe.recv()
        asked = time.perf_counter()
        pipe.send(Wish("bench", number + 2 + i, shot, 80, 960, 540, 64))
        pipe.send(Wish("echo", 10_000 + i, "{}broken", 0, 16, 16, 2))
        while True:
            message = pipe.recv()
            if isinstance(message, tuple) and message[0] == "echo":
                break
        worst = max(worst, (time.perf_counter() - asked) * 1e3)
    return worst
