"""Words composed into a picture of a place look as if they had been traced in the place."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import pytest

from dreizack.core.clips import bring_plate, plate_facts, plate_frame
from dreizack.core.clips.plates import as_values
from dreizack.core.colour import from_display, view_curve
from dreizack.core.document import Colour, Floor, Format, Light, Shot, Surroundings, Vector
from dreizack.core.library import shelve
from dreizack.core.media.finishing import finishing
from dreizack.core.media.formats.stills import read_exr, write_exr
from dreizack.core.optics import Finishing, Passes, Place, finished, scene_light
from dreizack.core.optics.plate_lens import lens_bent
from dreizack.core.render import Quality, Stage, trace
from dreizack.core.sandbox import FileRefused
from dreizack.core.scene import BodyStore, bake, exposed, frame_state, rippled, sight
from tests.conftest import plain_title

SIZE = (320, 180)


def a_place(words: bool, catches: bool) -> Shot:
    """A grey floor in the sun, with words on it or without."""
    floor = Floor()
    floor.finish.base_colour.r = floor.finish.base_colour.g = floor.finish.base_colour.b = 0.3
    floor.finish.roughness, floor.visibility.catches = 1.0, catches
    floor.finish.ior = 1.0
    title = plain_title("LW")
    title.finish.metallic, title.finish.roughness = 0.0, 0.8
    things = {"floor": floor, "sun": Light(source="sun", intensity=1.0, position=Vector(x=-4, y=5, z=3))}
    shot = Shot(
        format=Format(width=320, height=180, frames=1),
        things={**things, "title": title} if words else things,
        surroundings=Surroundings(studio="overcast"),
    )
    shot.camera.position = Vector(x=0.3, y=1.0, z=2.6)
    return shot


def traced(shot: Shot, samples: int = 128) -> np.ndarray:
    stage = Stage(BodyStore())
    stage.show(frame_state(shot, bake(shot, np.array([0.0])), 0))
    return trace(stage, *SIZE, Quality(samples, "high")).rgba


def test_a_catcher_takes_the_shadow_that_the_place_would_have_taken() -> None:
    truth, place = traced(a_place(True, False)), traced(a_place(False, False))
    shot = a_place(True, True)
    # What words see of the place is what is behind them: about the floor's own light.
    level = min(1.0, float(place[..., :3][place[..., 3] > 0.99].mean()))
    shot.backdrop.colour = Colour(r=level, g=level, b=level)
    caught = traced(shot)
    assert caught.shape[2] == 5
    whole = truth[..., :3] + (1 - truth[..., 3:4]) * 0.1
    behind = place[..., :3] + (1 - place[..., 3:4]) * 0.1
    settings = Finishing(0.0, "plain sRGB", behind)
    composed = scene_light(Passes(caught), settings)
    ground = (caught[..., 3] < 0.01) & (place[..., 3] > 0.99)
    shade = ground & (caught[..., 4] > 0.6)
    assert shade.sum() > 300
    # As dark as it should be, to two hundredths of the light there; its edge is as noisy as truth itself.
    assert abs((composed - whole)[shade].mean()) / behind[shade].mean() < 0.02
    assert np.abs(composed - whole)[shade].mean() / behind[shade].mean() < 0.05
    lit = ground & (caught[..., 4] < 0.02)
    assert np.abs(composed - whole)[lit].mean() / behind[lit].mean() < 0.02
    error = np.clip(view_curve(composed), 0, 1) - np.clip(view_curve(whole), 0, 1)
    assert -10 * np.log10((error[ground] ** 2).mean()) > 36
    # The edge of the shadow is where it is in truth: half as bright at the same places.
    half = behind.mean(axis=2) * 0.5
    told, real = ((one.mean(axis=2) < half) & ground for one in (composed, whole))
    apart = cv2.dilate(real.astype(np.uint8), np.ones((3, 3))) < told
    assert apart.sum() <= 0.01 * told.sum()


def test_a_catcher_where_nothing_stands_takes_nothing() -> None:
    caught = traced(a_place(False, True), 16)
    assert np.abs(caught).max() < 0.01


def test_light_that_words_send_falls_on_a_catcher() -> None:
    shot = a_place(True, True)
    shot.things["sun"].on = False  # type: ignore[union-attr]
    shot.surroundings.strength = -16
    dark = traced(shot, 32)
    title = shot.titles["title"]
    title.finish.emission, title.finish.emission_colour.r = 8.0, 1.0
    glows = traced(shot, 64)
    ground = (glows[..., 3] < 0.01) & (np.arange(SIZE[1])[:, None] > SIZE[1] * 0.7)
    assert dark[ground][:, :3].max() < 0.02
    assert glows[ground][:, :3].mean() > 0.05


def footage(path: Path, codec: str, pixels: str, frames: int = 14, size: tuple[int, int] = (160, 90)) -> Path:
    random = np.random.default_rng(6)
    base = cv2.GaussianBlur(random.integers(0, 255, (size[1], size[0], 3)).astype(np.uint8), (0, 0), 2)
    base = cv2.normalize(base, None, 0, 255, cv2.NORM_MINMAX)
    with av.open(str(path), "w") as movie:
        stream = movie.add_stream(codec, rate=Fraction(24000, 1001))
        stream.width, stream.height, stream.pix_fmt = *size, pixels
        for k in range(frames):
            frame = av.VideoFrame.from_ndarray(np.roll(base, 3 * k, axis=1), format="rgb24")
            movie.mux(stream.encode(frame.reformat(format=pixels)))
        movie.mux(stream.encode(None))
    return path


@pytest.fixture
def shelf(tmp_path: Path) -> Path:
    shelve(tmp_path)
    return tmp_path


@pytest.mark.parametrize(
    ("codec", "pixels", "bits"),
    [
        ("libx264", "yuv420p", 8),
        ("mjpeg", "yuvj420p", 8),
        ("png", "rgb24", 8),
        ("libx264", "yuv422p10le", 10),
    ],
)
def test_a_plate_is_what_it_was_frame_by_frame(shelf: Path, codec: str, pixels: str, bits: int) -> None:
    path = footage(shelf / "in.mov", codec, pixels)
    name = bring_plate(path, shelf)
    facts = plate_facts(name)
    assert facts is not None
    assert (facts.width, facts.height, facts.frames, facts.bits) == (160, 90, 14, bits)
    assert facts.per_second == Fraction(24000, 1001)
    with av.open(str(path)) as movie:
        for number, frame in enumerate(movie.decode(video=0)):
            found = plate_frame(name, number)
            assert found is not None
            assert np.abs(found - as_values(frame)).max() <= 1 / 255
    # Held at its ends.
    np.testing.assert_array_equal(plate_frame(name, 99), plate_frame(name, 13))


@pytest.mark.parametrize("view", ["shoulder", "plain sRGB"])
@pytest.mark.parametrize("exposure", [0.0, 1.5])
def test_a_plate_without_words_is_delivered_as_it_is(shelf: Path, view: str, exposure: float) -> None:
    name = bring_plate(footage(shelf / "in.mov", "libx264", "yuv420p"), shelf)
    shot = Shot.model_validate(
        {
            "format": {"width": 160, "height": 90, "rate": {"num": 24000, "den": 1001}, "frames": 14},
            "plate": {"clip": name},
            "backdrop": {"kind": "plate"},
            "camera": {"view": view, "exposure": exposure},
            "things": {"floor": {"kind": "floor", "visibility": {"catches": True}}},
        }
    )
    for number in (0, 5, 13):
        state = exposed(shot, float(number))
        nothing = np.zeros((90, 160, 5), np.float32)
        picture = finished(Passes(nothing), finishing(state, (160, 90)))
        shown = plate_frame(name, number)
        assert shown is not None
        assert np.abs(picture / 255 - shown).max() <= 1 / 255


def test_what_is_shown_comes_back_from_its_display_values() -> None:
    shown = np.linspace(0, 1, 256, dtype=np.float32)[:, None].repeat(3, axis=1)
    for view in ("shoulder", "plain sRGB", "plain Rec.709"):
        light = from_display(shown, view)
        settings = Finishing(0.0, view, light[None])
        codes = finished(Passes(np.zeros((1, 256, 4), np.float32)), settings)
        assert np.abs(codes[0] / 255 - shown).max() <= 1.01 / 255


@pytest.mark.parametrize("data", [b"", b"no film at all", b"\x00\x00\x00\x18ftypisom" + bytes(400)])
def test_what_is_no_footage_is_refused(shelf: Path, data: bytes) -> None:
    with pytest.raises(FileRefused):
        bring_plate(data, shelf)


def test_footage_that_is_cut_short_or_only_sound_is_refused_or_read_as_far_as_it_goes(shelf: Path) -> None:
    whole = footage(shelf / "in.mov", "libx264", "yuv420p").read_bytes()
    with pytest.raises(FileRefused):
        bring_plate(whole[: len(whole) // 3], shelf)
    with av.open(str(shelf / "sound.mp4"), "w") as movie:
        stream = movie.add_stream("aac", rate=48000)
        heard = av.AudioFrame.from_ndarray(np.zeros((1, 1024), np.float32), format="fltp", layout="mono")
        heard.sample_rate = 48000
        movie.mux(stream.encode(heard))
        movie.mux(stream.encode(None))
    with pytest.raises(FileRefused, match="no picture"):
        bring_plate(shelf / "sound.mp4", shelf)


def test_words_are_bent_as_the_lens_bends() -> None:
    place = Place(200, 100)
    picture = np.zeros((100, 200, 5), np.float32)
    picture[50, 180] = picture[10, 100] = 1
    bent = lens_bent(picture, -0.2, place)
    assert bent.shape == picture.shape
    for row, column in ((50, 180), (10, 100)):
        x, y = (column + 0.5 - 100) / 100, (row + 0.5 - 50) / 100
        share = 1 - 0.2 * (x * x + y * y)
        around = np.argwhere(bent[..., 4] > 0.05)
        there = np.array([y * share * 100 + 49.5, x * share * 100 + 99.5])
        assert np.abs(around - there).sum(axis=1).min() < 1.2
    # A window of it comes out as the whole does there.
    window = lens_bent(picture[40:60, 150:], -0.2, replace(place, left=150, top=40))
    np.testing.assert_allclose(window[4:16, 4:40], bent[44:56, 154:190], atol=1e-5)


def test_shadows_are_kept_with_their_picture(tmp_path: Path) -> None:
    picture = np.random.default_rng(1).random((9, 16, 5)).astype(np.float32)
    write_exr(tmp_path / "a.exr", picture)
    np.testing.assert_allclose(read_exr(tmp_path / "a.exr"), picture, atol=1e-3)
    write_exr(tmp_path / "b.exr", picture[..., :4])
    assert read_exr(tmp_path / "b.exr").shape == (9, 16, 4)


def test_shadows_fade_with_the_distance_from_what_throws_them() -> None:
    """A hard shadow of a high edge: where it lies so far from the edge, so much of it is left."""
    shot = a_place(True, True)
    full = traced(shot, 64)
    shot.plate.shadow_fade = 1000
    assert np.abs(traced(shot, 64)[..., 4] - full[..., 4]).mean() < 1e-3
    shot.plate.shadow_fade = 0.6
    faded = traced(shot, 64)
    dark = (full[..., 4] > 0.6) & (full[..., 3] < 0.01)
    left = faded[..., 4][dark] / full[..., 4][dark]
    # Whole at the foot of the letters, less with every row away from them, gone where they are highest.
    assert left.max() > 0.85 and left.min() < 0.35 and (left < 1.1).all()
    eye = sight(shot, 0)
    rows, columns = np.nonzero(dark)
    places = np.stack([(columns + 0.5) / SIZE[0], (rows + 0.5) / SIZE[1]], axis=1)
    ground = eye.on_ground(places)
    # The sun stands at (-4, 5, 3): the further along its shadow, the further from what throws it.
    along = ground @ (np.array([4, 0, -3]) / 5)
    assert np.corrcoef(along, left)[0, 1] < -0.5
    # The light of the words themselves does not change.
    words = full[..., 3] > 0.99
    assert np.abs(faded[..., :3][words] / full[..., :3][words] - 1).mean() < 0.01


def test_shadows_are_as_long_as_those_of_a_light_that_stands_lower() -> None:
    shot, low = a_place(True, True), a_place(True, True)
    shot.plate.shadow_length = 2.0
    sun = low.lights["sun"]
    sun.position.y = sun.aim.y + (sun.position.y - sun.aim.y) / 2
    plain, long, lower = (traced(one, 64) for one in (a_place(True, True), shot, low))
    ground = plain[..., 3] < 0.01
    # A sun that stands lower leaves less to be taken; its shadow ends at the same places.
    shades = [one[..., 4][ground] for one in (lower, long, plain)]
    told, asked, before = (shade > np.median(shade[shade > 0.2]) / 2 for shade in shades)
    assert (told != before).sum() > 0.3 * told.sum()
    assert (told != asked).sum() < 0.05 * told.sum()
    # Light on the words stays where it is.
    words = plain[..., 3] > 0.99
    assert np.abs(long[..., :3][words] / plain[..., :3][words] - 1).mean() < 0.01


def test_ripples_of_shadows_lie_on_the_ground() -> None:
    shot = a_place(True, True)
    plain = traced(shot, 128)
    shot.plate.shadow_ripple, shot.plate.ripple_size = 0.12, 0.5
    waves = traced(shot, 128)
    rows, columns = np.nonzero(plain[..., 3] < 0.01)
    low = rows > SIZE[1] * 0.55
    rows, columns = rows[low], columns[low]
    eye = sight(shot, 0)
    ground = eye.on_ground(np.stack([(columns + 0.5) / SIZE[0], (rows + 0.5) / SIZE[1]], axis=1))
    moved = rippled(ground[:, [0, 2]], 0.12, 0.5)
    shown = eye.seen(np.stack([moved[:, 0], np.zeros(len(moved)), moved[:, 1]], axis=1))
    at = np.rint(shown * SIZE - 0.5).astype(int)
    there = ((at >= 0) & (at < np.array(SIZE))).all(axis=1)
    there[there] &= plain[at[there, 1], at[there, 0], 3] < 0.01
    expected = plain[at[there, 1], at[there, 0], 4]
    got, still = (one[rows[there], columns[there], 4] for one in (waves, plain))
    goes = np.abs(still - expected) > 0.3
    assert goes.sum() > 100
    assert np.abs(got - expected)[goes].mean() < 0.3 * np.abs(still - expected)[goes].mean()
