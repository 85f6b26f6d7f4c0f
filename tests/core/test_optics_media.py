"""View transform, stills and movies, decoded again."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Channel, Key, Shot
from dreizack.core.media import (
    FORMATS,
    MovieWriter,
    Order,
    OrderError,
    Progress,
    deliver,
    parse_frames,
    parse_size,
    probe,
)
from dreizack.core.media.formats.stills import read_exr, write_exr
from dreizack.core.media.frames import pictures
from dreizack.core.media.sharing import picture_key
from dreizack.core.optics import SHOULDER_START, Finishing, Passes, finished, to_display, view_curve
from dreizack.core.render import QUALITIES, Stage, Stopped, trace
from dreizack.core.scene import BodyStore, bake, exposed


@given(st.lists(st.floats(0, 40, width=32), min_size=2, max_size=50))
def test_the_view_never_reverses_an_order_of_brightness(values: list[float]) -> None:
    linear = np.sort(np.array(values, np.float32))
    curve = view_curve(linear)
    assert (np.diff(curve) >= 0).all() and curve.max() <= 1


def test_below_the_shoulder_the_view_is_plain_srgb_and_above_it_smooth() -> None:
    x = np.linspace(0.01, SHOULDER_START, 50, dtype=np.float32)
    np.testing.assert_allclose(view_curve(x), 1.055 * x ** (1 / 2.4) - 0.055, atol=1e-5)
    near = view_curve(
        np.array([SHOULDER_START - 1e-3, SHOULDER_START, SHOULDER_START + 1e-3], np.float32)
    ).astype(float)
    assert near[2] - near[1] == pytest.approx(near[1] - near[0], rel=0.05)


def test_the_table_is_within_one_code_of_the_exact_curve(rng: np.random.Generator) -> None:
    linear = rng.uniform(0, 1.2, 20_000).astype(np.float32) ** 2 * 3
    exact = view_curve(linear) * 255
    assert np.abs(to_display(linear).astype(float) - exact).max() <= 1


def test_an_empty_picture_shows_the_backdrop() -> None:
    picture = finished(
        Passes(np.zeros((4, 6, 4), np.float32)), Finishing(1.0, "shoulder", np.array([0.1, 0.2, 0.3]))
    )
    expected = np.rint(view_curve(np.array([0.2, 0.4, 0.6], np.float32)) * 255)
    assert np.abs(picture.astype(int) - expected).max() <= 1


def test_exr_keeps_light_to_half_float_precision(tmp_path: Path, rng: np.random.Generator) -> None:
    picture = rng.uniform(0, 20, (9, 13, 4)).astype(np.float32)
    write_exr(tmp_path / "a.exr", picture)
    np.testing.assert_allclose(read_exr(tmp_path / "a.exr"), picture, rtol=1e-3)


@pytest.mark.parametrize("rate", [Fraction(25), Fraction(24000, 1001), Fraction(30000, 1001), Fraction(60)])
def test_movies_have_exact_rate_count_tags_and_colour(tmp_path: Path, rate: Fraction) -> None:
    path = tmp_path / "clip.mp4"
    colours = [(200, 40, 40), (30, 180, 60), (60, 60, 220), (128, 128, 128), (255, 255, 255), (0, 0, 0)]
    with MovieWriter(path, 64, 48, rate) as movie:
        for colour in colours:
            movie.write(np.full((48, 64, 3), colour, np.uint8))
    found = probe(path)
    assert (found["codec"], found["width"], found["height"], found["frames"]) == ("h264", 64, 48, 6)
    assert found["rate"] == rate
    # ISO/IEC 23091-2: 1 is Rec.709 for primaries, transfer and matrix; range 1 is limited.
    assert (found["primaries"], found["transfer"], found["matrix"], found["range"]) == (1, 1, 1, 1)
    data = path.read_bytes()
    assert data.index(b"moov") < data.index(b"mdat")
    assert b"colr" in data
    with av.open(str(path)) as container:
        for frame, colour in zip(container.decode(video=0), colours, strict=True):
            y, u, v = (int(np.median(plane)) for plane in planes(frame))
            assert np.abs(np.array(rgb709(y, u, v)) - colour).max() <= 3


def planes(frame: av.VideoFrame) -> list[np.ndarray]:
    raw = frame.to_ndarray(format="yuv420p")
    h, w = frame.height, frame.width
    flat = raw.ravel()
    return [flat[: h * w], flat[h * w : h * w * 5 // 4], flat[h * w * 5 // 4 :]]


def rgb709(y: int, u: int, v: int) -> tuple[float, float, float]:
    """ITU-R BT.709, section 3, from limited-range codes."""
    luma, cb, cr = (y - 16) / 219, (u - 128) / 224, (v - 128) / 224
    r, b = luma + 1.5748 * cr, luma + 1.8556 * cb
    return 255 * r, 255 * (luma - 0.2126 * r - 0.0722 * b) / 0.7152, 255 * b


@pytest.mark.parametrize(
    ("order", "says"),
    [
        (Order(0, 12, 320, 180, "draft"), "0-11"),
        (Order(5, 4, 320, 180, "draft"), "not all in the shot"),
        (Order(0, 1, 100_000, 180, "draft"), "not a size"),
        (Order(0, 1, 321, 180, "draft"), "even"),
        (Order(0, 1, 320, 180, "superb"), "quality"),
    ],
)
def test_impossible_orders_are_refused_with_the_remedy(shot: Shot, order: Order, says: str) -> None:
    with pytest.raises(OrderError, match=says):
        order.check(shot.format.frames, FORMATS["mp4"])


def test_ranges_and_sizes_are_read_as_people_write_them() -> None:
    assert parse_frames(None, 12) == (0, 11)
    assert parse_frames("3-7", 12) == (3, 7)
    assert parse_frames(" 4 ", 12) == (4, 4)
    assert parse_size("640x360", (2, 2)) == (640, 360)
    for text in ("a-b", "-3", "1-2-3", "99999999"):
        with pytest.raises(OrderError):
            parse_frames(text, 12)
    for text in ("640", "x", "640x", "0.5x3"):
        with pytest.raises(OrderError):
            parse_size(text, (2, 2))


class Keeper:
    """Keeps traced pictures in memory and counts."""

    def __init__(self) -> None:
        self.kept: dict[str, np.ndarray] = {}
        self.noted: dict[str, tuple[str, int]] = {}
        self.asked = 0

    def get(self, key: str) -> np.ndarray | None:
        self.asked += 1
        return self.kept.get(key)

    def has(self, key: str) -> bool:
        return key in self.kept

    def put(self, key: str, rgba: np.ndarray) -> None:
        assert key not in self.kept, "a frame was traced twice"
        self.kept[key] = rgba

    def note(self, frame: str, key: str, width: int) -> None:
        if frame not in self.noted or self.noted[frame][1] <= width:
            self.noted[frame] = key, width

    def of(self, frame: str) -> np.ndarray | None:
        return self.kept[self.noted[frame][0]] if frame in self.noted else None


def test_deliveries_trace_each_distinct_frame_once_and_optics_alone_traces_nothing(
    tmp_path: Path, shot: Shot
) -> None:
    keeper = Keeper()
    order = Order(0, 3, 96, 54, "draft")
    seen: list[Progress] = []
    deliver(shot, order, tmp_path / "a.mp4", keeper, lambda p, _: seen.append(p))
    assert [p.kept for p in seen] == [False, True, True, True]
    shot.camera.exposure = 1.0
    seen.clear()
    deliver(shot, order, tmp_path / "b.mp4", keeper, lambda p, _: seen.append(p))
    assert all(p.kept for p in seen) and len(keeper.kept) == 1
    first, second = (brightness(tmp_path / name) for name in ("a.mp4", "b.mp4"))
    assert second > first + 5


def test_frames_come_in_order_and_as_if_each_were_traced_alone(shot: Shot) -> None:
    shot.channels["/things/title/place/position/x"] = Channel(
        keys=[Key(frame=0, value=-1), Key(frame=3, value=1)]
    )
    keeper, order = Keeper(), Order(0, 3, 96, 54, "draft")
    found = list(pictures(shot, order, None, lambda: False))
    assert [frame for frame, *_ in found] == [0, 1, 2, 3] and not any(kept for *_, kept in found)
    baked = bake(shot, np.arange(4.0))
    for frame, state, rgba, _ in found:
        assert state.traced_key == exposed(shot, float(frame), baked, frame).traced_key
        stage = Stage(BodyStore())
        stage.show(state)
        np.testing.assert_allclose(rgba, trace(stage, 96, 54, QUALITIES["draft"]).rgba, atol=2e-3)
    # Frames that are kept and frames that are not keep their places too.
    keeper.put(picture_key(found[1][1], order), found[1][2])
    again = list(pictures(shot, order, keeper, lambda: False))
    assert [(frame, kept) for frame, _, _, kept in again] == [(0, False), (1, True), (2, False), (3, False)]
    for (_, _, before, _), (_, _, after, _) in zip(found, again, strict=True):
        np.testing.assert_allclose(after, before, atol=2e-3)


def test_what_was_traced_is_kept_though_the_next_frame_is_called_off(shot: Shot) -> None:
    shot.channels["/things/title/place/position/x"] = Channel(
        keys=[Key(frame=0, value=-1), Key(frame=3, value=1)]
    )
    keeper, order = Keeper(), Order(0, 3, 96, 54, "draft")
    # Called off as soon as the second frame is begun.
    with pytest.raises(Stopped):
        list(pictures(shot, order, keeper, lambda: keeper.asked > 1))
    state = exposed(shot, 0.0, bake(shot, np.arange(4.0)), 0)
    # A frame as small as the second may be done before it can be called off.
    assert keeper.asked == 2 and next(iter(keeper.kept)) == picture_key(state, order)


def test_a_smaller_delivery_is_made_from_a_larger_one_and_never_the_reverse(
    tmp_path: Path, shot: Shot
) -> None:
    keeper, seen = Keeper(), []
    deliver(
        shot,
        Order(0, 0, 192, 108, "draft"),
        tmp_path / "a.%05d.png",
        keeper,
        lambda p, _: seen.append(p.kept),
    )
    deliver(
        shot, Order(0, 0, 96, 54, "draft"), tmp_path / "b.%05d.png", keeper, lambda p, _: seen.append(p.kept)
    )
    deliver(
        shot, Order(0, 0, 96, 96, "draft"), tmp_path / "c.%05d.png", keeper, lambda p, _: seen.append(p.kept)
    )
    deliver(
        shot,
        Order(0, 0, 384, 216, "draft"),
        tmp_path / "d.%05d.png",
        keeper,
        lambda p, _: seen.append(p.kept),
    )
    assert seen == [False, True, False, False]
    large, small = (cv2.imread(str(tmp_path / f"{name}.00000.png")).astype(float) for name in "ab")
    assert np.abs(cv2.resize(large, (96, 54), interpolation=cv2.INTER_AREA) - small).mean() < 2


def brightness(path: Path) -> float:
    with av.open(str(path)) as container:
        return float(np.mean([f.to_ndarray(format="gray").mean() for f in container.decode(video=0)]))


def test_stopping_leaves_no_file_behind(tmp_path: Path, shot: Shot) -> None:
    with pytest.raises(Stopped):
        deliver(shot, Order(0, 3, 96, 54, "draft"), tmp_path / "a.mp4", stopped=lambda: True)
    assert list(tmp_path.iterdir()) == []


def test_frames_are_written_as_numbered_files(tmp_path: Path, shot: Shot) -> None:
    deliver(shot, Order(2, 3, 97, 55, "draft"), tmp_path / "n.%04d.png")
    deliver(shot, Order(2, 2, 97, 55, "draft"), tmp_path / "n.%04d.exr")
    assert sorted(p.name for p in tmp_path.iterdir()) == ["n.0002.exr", "n.0002.png", "n.0003.png"]
    assert cv2.imread(str(tmp_path / "n.0002.png")).shape == (55, 97, 3)
    light = read_exr(tmp_path / "n.0002.exr")
    assert light.shape == (55, 97, 4) and light[..., 3].max() > 0.99 and light[0, 0].max() == 0
