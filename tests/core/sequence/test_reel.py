"""Frames of sequences: mixed in light, traced once, the same for whoever asks."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from dreizack.core.document import Backdrop, Channel, Colour, Key, Shot
from dreizack.core.media import FORMATS, Order, ShotReel, deliver_reel, probe
from dreizack.core.media.formats import FormatError
from dreizack.core.media.frames import pictures
from dreizack.core.scene import bake
from dreizack.core.sequence import Bundle, Laid, Lane, Sequence, SequencePiece, SequenceReel, Transition
from dreizack.core.sequence.framing import reframed
from tests.core.test_optics_media import Keeper

SIZE = (96, 54)


@pytest.fixture
def bundle(shot: Shot) -> Bundle:
    shot.channels["/things/title/place/rotation/y"] = Channel(
        keys=[Key(frame=0, value=-40), Key(frame=11, value=40)]
    )
    other = shot.model_copy(deep=True)
    other.name, other.things["title"].words = "Flood", "O"  # type: ignore[union-attr]
    other.backdrop = Backdrop(kind="colour", colour=Colour(r=0.3, g=0.1, b=0.05))
    sequence = Sequence(
        width=320,
        height=180,
        line=[
            SequencePiece(shot="a", frames=4),
            SequencePiece(shot="b", skip=2, frames=5, transition=Transition(kind="dissolve", frames=2)),
            SequencePiece(kind="colour", frames=2, colour=Colour(r=0.2, g=0.2, b=0.2)),
        ],
    )
    return Bundle(sequence, {"a": shot, "b": other})


def light_of(shot: Shot, frame: int) -> np.ndarray:
    order = Order(frame, frame, *SIZE, "draft")
    return next(iter(ShotReel(shot, order).pictures(lambda: False))).light


def test_each_frame_is_that_of_its_shot_or_their_mixture(bundle: Bundle) -> None:
    keeper = Keeper()
    order = Order(0, bundle.sequence.total - 1, *SIZE, "draft")
    found = list(SequenceReel(bundle, order, keeper).pictures(lambda: False))
    assert [picture.number for picture in found] == list(range(9))
    a, b = bundle.shots["a"], bundle.shots["b"]
    np.testing.assert_allclose(found[1].light, light_of(a, 1), atol=5e-3)
    np.testing.assert_allclose(found[5].light, light_of(b, 5), atol=5e-3)
    mixed = light_of(a, 2) * 2 / 3 + light_of(b, 2) / 3
    np.testing.assert_allclose(found[2].light, mixed, atol=5e-3)
    np.testing.assert_allclose(found[8].light, 0.2, atol=1e-6)
    # A second order, in any format, traces nothing; neither does a part of it.
    again = list(SequenceReel(bundle, Order(1, 6, *SIZE, "draft"), keeper).pictures(lambda: False))
    assert all(picture.kept for picture in again) and len(keeper.kept) == 4 + 5
    np.testing.assert_allclose(again[1].light, found[2].light, atol=1e-6)


def test_lanes_lay_only_words_over_the_line(bundle: Bundle) -> None:
    lane = Lane(pieces=[Laid(at=8, piece=SequencePiece(shot="b", skip=5, frames=1))])
    over = bundle.sequence.model_copy(update={"lanes": [lane]})
    order = Order(8, 8, *SIZE, "draft")
    plain = next(iter(SequenceReel(bundle, order).pictures(lambda: False)))
    laid = next(iter(SequenceReel(Bundle(over, bundle.shots), order).pictures(lambda: False)))
    alpha = laid.alone.coverage[..., 0]
    assert 0.02 < alpha.mean() < 0.9 and not plain.alone.coverage.any()
    np.testing.assert_allclose(laid.light[alpha == 0], plain.light[alpha == 0], atol=1e-5)
    solid = alpha == 1
    np.testing.assert_allclose(laid.light[solid], light_of(bundle.shots["b"], 5)[solid], atol=2e-2)


def test_backwards_and_between_frames(bundle: Bundle) -> None:
    shot = bundle.shots["a"]
    at = np.array([4.0, 2.5, 2.0])
    found = list(pictures(shot, Order(0, 2, *SIZE, "draft"), None, lambda: False, at))
    baked = bake(shot, at)
    for index, (_, state, _, _) in enumerate(found):
        np.testing.assert_allclose(state.titles["title"].matrix, baked.titles["title"].matrix[index])


def test_a_movie_of_a_sequence_has_its_frames_and_passes_are_refused(bundle: Bundle, tmp_path: Path) -> None:
    reel = SequenceReel(bundle, Order(0, 8, *SIZE, "draft"))
    deliver_reel(reel, tmp_path / "a.mp4", FORMATS["mp4"])
    found = probe(tmp_path / "a.mp4")
    assert (found["frames"], found["width"], found["height"], found["rate"]) == (9, 96, 54, 25)
    with pytest.raises(FormatError, match="one by one"):
        deliver_reel(reel, tmp_path / "b.%d.exr", FORMATS["exr-passes"])
    assert [path.name for path in tmp_path.iterdir()] == ["a.mp4"]


@pytest.mark.parametrize(("width", "height"), [(180, 320), (200, 200), (478, 200)])
def test_other_formats_show_all_that_was_seen_or_fill(shot: Shot, width: int, height: int) -> None:
    before = np.tan(np.radians(shot.camera.vertical_angle(shot.format.aspect) / 2))
    seen = np.array([before * shot.format.aspect, before])
    for rule in ("fit", "fill"):
        made = reframed(shot, width, height, rule)  # type: ignore[arg-type]
        half = np.tan(np.radians(made.camera.vertical_angle(width / height) / 2))
        assert made.format.aspect == pytest.approx(width / height, rel=0.01)
        now = np.array([half * width / height, half]) / seen
        assert (now >= 1 - 1e-9).all() if rule == "fit" else (now <= 1 + 1e-9).all()
        assert np.abs(now - 1).min() < 1e-9, "one of the sides is just what it was"
    assert shot.format.width == 320
