"""The traced view's own process: sharpens, restarts at once, survives bad wishes."""

from __future__ import annotations

import time
from collections.abc import Iterator
from multiprocessing import Pipe
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest

from dreizack.core.document import Channel, Key, Shot
from dreizack.core.media.sharing import pass_name
from dreizack.core.scene import exposed
from dreizack.store.frame_cache import FrameCache
from dreizack.work.preview import Answered, Kept, Picture, Question, Wish, loop, start_preview
from dreizack.work.preview.look import PreviewJob


@pytest.fixture(scope="module")
def pipe() -> Iterator[Connection]:
    process, ours = start_preview(Path("/nonexistent"))
    yield ours
    ours.send(None)
    process.join(timeout=10)
    assert process.exitcode == 0, "it ends when asked to"


def heard(pipe: Connection, seconds: float = 240) -> Any:
    assert pipe.poll(seconds), "nothing came"
    return pipe.recv()


def test_a_picture_starts_small_and_sharpens_to_the_size_asked_for(pipe: Connection, shot: Shot) -> None:
    pipe.send(Wish("a", 1, shot.model_dump_json(), 0, 320, 180, 16))
    pictures: list[Picture] = []
    while not pictures or pictures[-1].samples < 16:
        pictures.append(heard(pipe))
    assert (pictures[0].width, pictures[0].height) == (160, 90)
    assert (pictures[-1].width, pictures[-1].height, pictures[-1].total) == (320, 180, 16)
    assert [p.samples for p in pictures] == sorted(p.samples for p in pictures)
    decoded = cv2.imdecode(np.frombuffer(pictures[-1].data, np.uint8), cv2.IMREAD_COLOR)
    assert decoded.shape == (180, 320, 3) and decoded.max() > 100


def test_a_new_wish_calls_the_old_one_off(pipe: Connection, shot: Shot) -> None:
    pipe.send(Wish("a", 2, shot.model_dump_json(), 0, 640, 360, 256))
    assert heard(pipe).number == 2
    shot.things["title"].words = "FLOOD"
    pipe.send(Wish("a", 3, shot.model_dump_json(), 0, 160, 90, 2))
    asked = time.monotonic()
    while (picture := heard(pipe)).number == 2:
        assert time.monotonic() - asked < 0.5, "the old picture goes on"
    assert picture.number == 3


def test_a_bad_wish_is_answered_in_words_and_others_go_on(pipe: Connection, shot: Shot) -> None:
    pipe.send(Wish("b", 4, "{}broken", 0, 64, 36, 2))
    viewer, number, why = heard_of(pipe, "b")
    assert (viewer, number) == ("b", 4) and "cannot be traced" in why
    pipe.send(Wish("c", 5, shot.model_dump_json(), 0, 64, 36, 2))
    assert isinstance(heard_of(pipe, "c"), Picture)


def heard_of(pipe: Connection, viewer: str) -> Any:
    while True:
        message = heard(pipe)
        if (message[0] if isinstance(message, tuple) else message.viewer) == viewer:
            return message


@pytest.fixture
def keeping(tmp_path: Path) -> Iterator[tuple[Connection, Path]]:
    process, ours = start_preview(Path("/nonexistent"), tmp_path / "views")
    yield ours, tmp_path / "views"
    ours.send(None)
    process.join(timeout=20)


def test_finished_pictures_are_kept_and_frames_ahead_are_traced(
    keeping: tuple[Connection, Path], shot: Shot
) -> None:
    pipe, folder = keeping
    # Frames in which nothing moves are one picture; these are not.
    shot.channels = {"/camera/roll": Channel(keys=[Key(frame=0, value=0), Key(frame=11, value=20)])}
    text = shot.model_dump_json()
    pipe.send(Wish("a", 1, text, 3, 64, 36, 4, ahead=2))
    kept: list[int] = []
    while len(kept) < 2:
        message = heard(pipe)
        if isinstance(message, Kept):
            kept.append(message.frame)
    assert kept == [4, 5] and len(list(folder.glob("*/*.jpg"))) == 3
    # The next frame is there at once, whole; nothing small comes first.
    pipe.send(Wish("a", 2, text, 4, 64, 36, 4))
    picture = heard(pipe)
    assert isinstance(picture, Picture) and (picture.number, picture.frame, picture.samples) == (2, 4, 4)
    assert cv2.imdecode(np.frombuffer(picture.data, np.uint8), cv2.IMREAD_COLOR).shape == (36, 64, 3)
    # While it plays, what is not kept is not traced: nothing comes for frame 9.
    pipe.send(Wish("a", 3, text, 9, 64, 36, 4, kept=True))
    pipe.send(Wish("a", 4, text, 5, 64, 36, 4, kept=True))
    assert heard(pipe).number == 4


def test_questions_are_answered_beside_pictures(keeping: tuple[Connection, Path], shot: Shot) -> None:
    pipe, _ = keeping
    pipe.send(Wish("a", 1, shot.model_dump_json(), 0, 320, 180, 64))
    pipe.send(Question("q", 2, shot.model_dump_json(), 0, 320, 180, 0.01, 0.01))
    pipe.send(Question("broken", 3, "{}broken", 0, 320, 180, 0.5, 0.5))
    answered, refused, last = None, None, None
    while answered is None or refused is None or last is None or last.samples < 64:
        message = heard(pipe)
        if isinstance(message, Answered):
            answered = message
        elif isinstance(message, tuple):
            refused = message
        else:
            last = message
    assert answered.viewer == "q" and answered.answer.thing is None and "backdrop" in answered.says[0]
    assert refused[0] == "broken" and "cannot be measured" in refused[2]


def test_a_region_is_traced_alone_and_looks_like_its_part_of_the_whole(pipe: Connection, shot: Shot) -> None:
    def clean(wish: Wish) -> np.ndarray:
        pipe.send(wish)
        while (
            picture := heard_of(pipe, wish.viewer)
        ).samples < wish.samples or picture.number != wish.number:
            pass
        return cv2.imdecode(np.frombuffer(picture.data, np.uint8), cv2.IMREAD_COLOR).astype(float)

    whole = clean(Wish("whole", 20, shot.model_dump_json(), 0, 320, 180, 16))
    part = clean(Wish("part", 21, shot.model_dump_json(), 0, 320, 180, 16, region=(0.25, 0.5, 0.5, 0.25)))
    assert part.shape == (45, 160, 3)
    assert np.abs(whole[90:135, 80:240] - part).mean() < 4


def test_frames_that_were_delivered_are_shown_at_once(shot: Shot, tmp_path: Path) -> None:
    """A mark in the kept pass tells it from anything that was traced for looking."""
    frames = FrameCache(tmp_path / "frames")
    state = exposed(shot, 0.0)
    marked = np.zeros((180, 320, 4), np.float32)
    marked[..., 1] = marked[..., 3] = 1
    frames.put("anything", marked)
    frames.note(pass_name(state, "good"), "anything", 320)
    process, ours = start_preview(Path("/nonexistent"), tmp_path / "views", tmp_path / "frames")
    try:
        ours.send(Wish("a", 1, shot.model_dump_json(), 0, 160, 90, 16))
        picture = heard(ours)
        decoded = cv2.imdecode(np.frombuffer(picture.data, np.uint8), cv2.IMREAD_COLOR)
        assert picture.samples == 16 and decoded.shape == (90, 160, 3)
        assert decoded[..., 1].min() > 200 and decoded[..., 0].max() < 40
        # Larger than what was delivered: traced.
        ours.send(Wish("a", 2, shot.model_dump_json(), 0, 640, 360, 2))
        assert heard(ours).width == 320
    finally:
        ours.send(None)
        process.join(timeout=10)


def test_what_waits_aside_for_too_long_goes_on_in_turn_with_those_who_look(
    shot: Shot, monkeypatch: pytest.MonkeyPatch
) -> None:
    previewer = loop.Previewer(Pipe()[0], None)
    text, worked = shot.model_dump_json(), []
    for number, viewer in enumerate(("poster", "chip", "a", "b")):
        wish = Wish(viewer, number, text, 0, 64, 36, 16, aside=number < 2)
        previewer.latest[viewer] = number
        previewer._hear(wish)

    def work(look: PreviewJob, late: bool = False) -> None:
        look.steps += 1
        worked.append((look.wish.viewer, late))

    for viewer in ("poster", "chip", "a", "b"):
        previewer._begin_wished(viewer)
    monkeypatch.setattr(previewer, "_work", work)
    looks = previewer.looks
    for look in looks.values():
        look.seen = True

    def turns(count: int) -> list[tuple[str, bool]]:
        worked.clear()
        for _ in range(count):
            previewer._take_turn()
        return list(worked)

    # Those who look go first, and share.
    assert turns(4) == [("a", False), ("b", False), ("a", False), ("b", False)]
    looks["poster"].since -= loop.LATE + 1
    monkeypatch.setattr(loop, "SHARE", 0.005)
    assert set(turns(1)) == {("poster", True)}
    # For as long as that lasted it is the turn of those who look, and then its own again.
    monkeypatch.setattr(loop, "SHARE", 1000.0)
    assert turns(2) == [("a", False), ("b", False)]
    previewer.shared -= 1000.0
    monkeypatch.setattr(loop, "SHARE", 0.005)
    assert set(turns(1)) == {("poster", True)}
    # One that nobody waits for any more takes no turn from anybody.
    previewer.latest.pop("poster")
    assert set(turns(4)) == {("a", False), ("b", False)}


def test_wishes_that_are_replaced_before_their_turn_are_not_begun(
    shot: Shot, monkeypatch: pytest.MonkeyPatch
) -> None:
    previewer = loop.Previewer(Pipe()[0], None)
    text, begun, worked = shot.model_dump_json(), [], []
    begin = previewer._begin

    def began(wish: Wish) -> PreviewJob | None:
        begun.append((wish.viewer, wish.number))
        return begin(wish)

    def work(look: PreviewJob, late: bool = False) -> None:
        worked.append(look.wish.viewer)
        look.seen = True

    monkeypatch.setattr(previewer, "_begin", began)
    monkeypatch.setattr(previewer, "_work", work)

    def wish(viewer: str, number: int) -> None:
        previewer.latest[viewer] = number
        previewer._hear(Wish(viewer, number, text, 0, 64, 36, 16))

    for number in range(20):
        for viewer in "abc":
            wish(viewer, number)
    # Each is begun once, as it was wished last, and seen before the next one is begun.
    for _ in range(6):
        previewer._take_turn()
    assert begun == [("a", 19), ("b", 19), ("c", 19)] and worked == ["a", "b", "c"]
    # Who asks again and again keeps the turn, and gets no second one before the others.
    wish("b", 20), wish("c", 20), wish("b", 21)
    for _ in range(4):
        previewer._take_turn()
    assert begun[3:] == [("b", 21), ("c", 20)] and worked[3:] == ["b", "c"]
    # What was begun and is not wanted any more takes no time.
    previewer.latest["a"] = 99
    assert [look.wish.viewer for look in previewer._active()] == ["b", "c"]
