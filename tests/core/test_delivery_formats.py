"""Every format of deliveries, decoded again."""

from __future__ import annotations

import json
import zipfile
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
import OpenEXR
import pytest

from dreizack.core.document import Channel, Cover, DrawnShape, Key, Shot
from dreizack.core.media import (
    FORMATS,
    FormatError,
    MovieWriter,
    Order,
    ShotReel,
    chosen_format,
    deliver,
    deliver_reel,
    probe,
)
from dreizack.core.media.picture import FramePicture
from dreizack.core.optics import Finishing, Passes, alone, display_values, finished
from dreizack.core.render import Stage, data_passes
from dreizack.core.render.sampling.data_passes import seen_at
from dreizack.core.scene import BodyStore, exposed

MOVIES = [name for name, each in FORMATS.items() if each.movie]
# What a value may stray by in a decoded picture, of 65535: chroma is quantised, palettes are small.
STRAYS = {"loop": 3000, "mp4": 900, "vp9-alpha": 900}


def decoded(path: Path, written: str) -> list[np.ndarray]:
    """Frames as 16-bit R'G'B' and alpha."""
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        # Alpha of WebM lies beside the pictures; only this decoder looks for it.
        reader: Any = av.CodecContext.create("libvpx-vp9", "r") if written == "vp9-alpha" else None
        frames = [
            frame
            for packet in container.demux(stream)
            for frame in (reader.decode(packet) if reader else packet.decode())
        ]
        return [frame.to_ndarray(format="rgba64le") for frame in frames]


@pytest.mark.parametrize("rate", [Fraction(25), Fraction(24000, 1001)])
@pytest.mark.parametrize("name", MOVIES)
def test_movies_come_back_as_they_were_told(name: str, rate: Fraction, tmp_path: Path) -> None:
    written = FORMATS[name]
    path = tmp_path / f"a{written.suffix}"
    time = np.arange(int(48_000 * 12 / rate)) / 48_000
    sound = np.repeat(np.sin(2 * np.pi * 440 * time)[:, None] * 0.5, 2, axis=1).astype(np.float32)
    colours = [(52000, 12000, 20000), (10000, 40000, 15000), (15000, 18000, 60000)]
    with MovieWriter(path, 64, 48, rate, sound=sound, encoding=written.encoding) as movie:
        for index in range(12):
            picture = np.zeros((48, 64, 4), np.uint16)
            picture[..., :3], picture[..., 3] = colours[index // 4], 65535
            picture[:, 32:, 3] = 20000
            flat = picture if written.holds == "titles" else picture[..., :3]
            movie.write((flat // 257).astype(np.uint8) if written.bits == 8 and flat.shape[2] == 3 else flat)
    found = probe(path)
    assert (found["width"], found["height"], found["frames"]) == (64, 48, 12)
    if name != "loop":
        assert found["rate"] == rate and found["sounds"] == [
            {"aac": "aac", "pcm_s24le": "pcm_s24le", "libopus": "opus"}[written.encoding.sound]  # type: ignore[union-attr]
        ]
        # ITU-T H.273: 1 is Rec.709 for primaries, transfer and matrix; range 1 is limited.
        assert (found["primaries"], found["transfer"], found["matrix"], found["range"]) == (1, 1, 1, 1)
    frames = decoded(path, name)
    assert len(frames) == 12
    for index in (1, 6, 10):
        strays = np.abs(frames[index][24, 10, :3].astype(int) - colours[index // 4]).max()
        assert strays < STRAYS.get(name, 400), (name, index, strays)
    if written.alpha == "straight":
        assert abs(int(frames[5][24, 50, 3]) - 20000) < 400 and frames[5][24, 10, 3] > 65000
        # Straight: what is half there has the colour it would have if it were there.
        assert np.abs(frames[5][24, 50, :3].astype(int) - colours[1]).max() < STRAYS.get(name, 400)


def test_names_and_suffixes_choose_formats_or_say_what_there_is() -> None:
    assert chosen_format("", ".MP4").name == "mp4" and chosen_format("av1", ".mp4").name == "av1"
    for name, suffix, says in (
        ("", ".avi", ".mp4"),
        ("superb", ".mp4", "prores-4444"),
        ("hevc", ".mov", ".mp4"),
    ):
        with pytest.raises(FormatError, match=says):
            chosen_format(name, suffix)


def test_titles_alone_over_black_are_the_finished_picture_over_black(rng: np.random.Generator) -> None:
    beauty = np.zeros((24, 40, 4), np.float32)
    beauty[6:18, 8:30] = 1
    beauty[6:18, 8:30, :3] = rng.uniform(0.02, 3, (12, 22, 3))
    bright = Shot()
    bright.optics.bloom.amount, bright.optics.bloom.radius = 0.3, 0.1
    settings = Finishing(0.5, "shoulder", np.zeros(3), exposed(bright, 0.0).optics)
    passes = Passes(beauty)
    straight = alone(passes, settings).straight("shoulder")
    over_black = straight[..., :3] * straight[..., 3:]
    expected = finished(passes, settings).astype(np.float32) / 255
    assert straight[..., 3].max() <= 1 and straight[4, 18, 3] > 0.01, "glow has alpha of its own"
    np.testing.assert_allclose(over_black, expected, atol=0.006)


def test_half_covered_edges_keep_their_colour_in_straight_alpha() -> None:
    beauty = np.tile(np.array([0.1, 0.2, 0.15, 0.5], np.float32), (4, 4, 1))
    straight = alone(Passes(beauty), Finishing(0, "shoulder", np.ones(3))).straight("shoulder")
    expected = display_values(np.array([0.2, 0.4, 0.3], np.float32))
    np.testing.assert_allclose(straight[0, 0], [*expected, 0.5], atol=1e-5)


@pytest.fixture
def moving(shot: Shot) -> Shot:
    shot.channels["/things/title/place/position/x"] = Channel(
        keys=[Key(frame=0, value=-0.2, ease={"kind": "linear"}), Key(frame=10, value=0.2)]
    )
    return shot


def test_frames_in_an_archive_and_as_files_are_the_same(tmp_path: Path, moving: Shot) -> None:
    order = Order(0, 1, 64, 36, "draft")
    deliver(moving, order, tmp_path / "a.%03d.png")
    deliver_reel(ShotReel(moving, order), tmp_path / "b.zip", FORMATS["png"])
    with zipfile.ZipFile(tmp_path / "b.zip") as archive:
        assert archive.namelist() == ["b/b.00000.png", "b/b.00001.png"] and archive.testzip() is None
        for number in range(2):
            data = np.frombuffer(archive.read(f"b/b.{number:05d}.png"), np.uint8)
            one, other = (
                cv2.imdecode(data, cv2.IMREAD_COLOR),
                cv2.imread(str(tmp_path / f"a.{number:03d}.png")),
            )
            assert np.abs(one.astype(int) - other).mean() < 2
    assert b"sRGB" in (tmp_path / "a.000.png").read_bytes()[:80], "the chunk that says what the numbers mean"
    assert sorted(p.name for p in tmp_path.iterdir()) == ["a.000.png", "a.001.png", "b.zip"]


def test_sixteen_bits_and_alpha_come_back(tmp_path: Path, shot: Shot) -> None:
    order = Order(0, 0, 64, 36, "draft")
    deliver(shot, order, tmp_path / "a.%d.png", written="png-alpha")
    deliver(shot, order, tmp_path / "b.%d.tif")
    png = cv2.imread(str(tmp_path / "a.0.png"), cv2.IMREAD_UNCHANGED)
    tif = cv2.imread(str(tmp_path / "b.0.tif"), cv2.IMREAD_UNCHANGED)
    assert png.dtype == tif.dtype == np.uint16 and png.shape == (36, 64, 4) and tif.shape == (36, 64, 3)
    assert png[0, 0, 3] == 0 and png[..., 3].max() == 65535
    solid = png[..., 3] == 65535
    assert np.abs(png[solid][:, :3].astype(int) - tif[solid]).max() < 3000


def test_what_covers_hide_is_a_matte_of_its_own_and_no_title(tmp_path: Path, moving: Shot) -> None:
    shot = moving.model_copy(deep=True)
    shot.backdrop.kind = "plate"
    left = DrawnShape(frame=0, points=[(-0.1, -0.1), (0.5, -0.1), (0.5, 1.1), (-0.1, 1.1)])
    shot.plate.covers = [Cover(shapes=[left], softness=0)]
    deliver(shot, Order(2, 2, 96, 54, "draft"), tmp_path / "a.%d.exr", written="exr-passes")
    with OpenEXR.File(str(tmp_path / "a.2.exr"), separate_channels=True) as file:
        parts = {part.name(): part for part in file.parts}
        matte = np.asarray(parts["covers"].channels["Y"].pixels, np.float32)
        alpha = np.asarray(parts["titles"].channels["A"].pixels, np.float32)
    assert matte[:, :47].min() == 1 and matte[:, 49:].max() == 0
    assert alpha[:, :47].max() == 0 and alpha[:, 49:].max() == 1


def test_every_pass_is_in_its_part_and_tells_the_truth(tmp_path: Path, moving: Shot) -> None:
    order = Order(2, 2, 96, 54, "draft")
    deliver(moving, order, tmp_path / "a.%d.exr", written="exr-passes")
    with OpenEXR.File(str(tmp_path / "a.2.exr"), separate_channels=True) as file:
        parts = {part.name(): part for part in file.parts}
        assert list(parts) == ["beauty", "titles", "plate", "depth", "normal", "motion", "parts"]
        read = {
            name: {key: np.asarray(c.pixels, np.float32) for key, c in part.channels.items()}
            for name, part in parts.items()
        }
        names = json.loads(parts["parts"].header["partNames"])
        kinds = {name: part.header["colorInteropID"] for name, part in parts.items()}
        assert all(part.header["chromaticities"][2:4] == pytest.approx((0.3, 0.6)) for part in file.parts)
    colour = {"beauty", "titles", "plate"}
    assert kinds == {name: "lin_rec709_scene" if name in colour else "data" for name in parts}
    assert set(names.values()) >= {"title_0_face", "title_0_wall"}
    ids, shares = read["parts"]["id0"], read["parts"]["share0"]
    inside = (ids > 0) & (shares == 1)
    assert inside.sum() > 100
    face = inside & (ids == next(float(k) for k, name in names.items() if name == "title_0_face"))
    normals = np.stack([read["normal"][axis][face] for axis in "XYZ"], axis=-1)
    np.testing.assert_allclose(normals, np.tile([0, 0, 1], (len(normals), 1)), atol=1e-3)
    # The title moves 0.04 m a frame along x: what it is in pixels is a matter of depth and lens.
    state = exposed(moving, 2.0)
    rows, columns = np.nonzero(face)
    depth = read["depth"]["Z"][face]
    at = state.pose.position + depth[:, None] * (
        state.pose.axes[2]
        + np.stack([columns + 0.5 - 48, 27 - rows - 0.5], axis=1)
        * (np.tan(np.radians(state.pose.angle / 2)) / 27)
        @ state.pose.axes[:2]
    )
    expected = seen_at(state.pose, at + np.array([0.04, 0, 0]), (96, 54)) - seen_at(state.pose, at, (96, 54))
    np.testing.assert_allclose(read["motion"]["u"][face], expected[:, 0], atol=0.03)
    np.testing.assert_allclose(read["motion"]["v"][face], expected[:, 1], atol=0.03)
    total = sum(read["parts"][f"share{k}"] for k in range(4))
    assert total.max() <= 1.001


def test_lights_apart_add_up_to_all_of_them(tmp_path: Path, shot: Shot) -> None:
    order = Order(0, 0, 96, 54, "good")
    deliver(shot, order, tmp_path / "a.%d.exr", written="exr-lights")
    with OpenEXR.File(str(tmp_path / "a.0.exr")) as file:
        parts = {part.name(): part for part in file.parts}
        whole = np.asarray(parts["titles"].channels["RGBA"].pixels, np.float32)[..., :3]
        lights = {
            name: np.asarray(part.channels["RGB"].pixels, np.float32)
            for name, part in parts.items()
            if name.startswith("light.")
        }
    assert set(lights) == {"light.surroundings", *(f"light.{name}" for name in shot.lights)}
    together = sum(lights.values())
    # Each is denoised by itself; on the whole they are the same light.
    assert abs(together.mean() / whole.mean() - 1) < 0.02
    assert np.abs(together - whole).mean() < 0.08 * whole.mean()


def test_data_of_a_still_thing_does_not_move(shot: Shot) -> None:
    state = exposed(shot, 0.0)
    found = data_passes(Stage(BodyStore()), state, exposed(shot, 1.0), (64, 36))
    assert not found.motion.any() and found.depth[0, 0] == 0 and (found.depth > 0).any()


def test_a_picture_is_made_once_however_often_it_is_asked_for() -> None:
    made: list[int] = []

    def light() -> np.ndarray:
        made.append(1)
        return np.full((2, 2, 3), 0.2, np.float32)

    picture = FramePicture(0, light, lambda: pytest.fail("nobody asked for titles alone"), "shoulder", False)
    assert picture.eight.shape == picture.deep.shape == (2, 2, 3) and made == [1]
