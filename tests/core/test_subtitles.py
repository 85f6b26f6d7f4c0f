"""Subtitles to words over time and back."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Format, Shot, Span, Title, apply_edit, shot_at
from dreizack.core.exchange.subtitles import (
    Cue,
    SubtitleError,
    read_subtitles,
    subtitles_of,
    with_subtitles,
    write_subtitles,
)
from dreizack.core.scene import bake, sight

SRT = """1
00:00:00,400 --> 00:00:01,200
The tide <i>stands</i> still

2
00:00:02,000 --> 00:00:03,000 X1:40 X2:600
{\\an8}for a while
and turns
"""
VTT = """WEBVTT Kind: captions

NOTE nothing of this

intro
00:00.400 --> 00:01.200 align:start
The tide <c.low>stands</c> still

00:00:02.000 --> 00:00:03.000
for a while
and turns
"""


@pytest.mark.parametrize("text", [SRT, VTT, SRT.replace("\n", "\r\n"), "\ufeff" + SRT])
def test_both_kinds_are_read_alike(text: str) -> None:
    assert read_subtitles(text.encode()) == [
        Cue(0.4, 1.2, "The tide stands still"),
        Cue(2.0, 3.0, "for a while\nand turns"),
    ]


words = st.text(st.characters(codec="utf-8", exclude_categories=("C", "Z")), min_size=1, max_size=30).filter(
    lambda text: not set("<>{}&\\") & set(text)
)


@given(st.lists(st.tuples(st.integers(1, 4000), st.integers(1, 4000), words), min_size=1, max_size=12))
def test_what_is_written_is_read_again(told: list[tuple[int, int, str]]) -> None:
    cues, at = [], 0
    for wait, lasts, text in told:
        cues.append(Cue((at + wait) / 1000, (at + wait + lasts) / 1000, text))
        at += wait + lasts
    for kind in ("srt", "vtt"):
        assert read_subtitles(write_subtitles(cues, kind).encode()) == cues


def test_a_title_says_them_when_they_are_and_leaves_as_them() -> None:
    shot = Shot(format=Format(frames=80), things={})
    made = apply_edit(shot, with_subtitles(shot, read_subtitles(SRT.encode()))).shot
    assert list(made.titles) == ["subtitles"]
    said = [shot_at(made, frame).titles["subtitles"].words for frame in (0, 10, 29, 30, 50, 74, 75)]
    assert said == [
        "",
        "The tide stands still",
        "The tide stands still",
        "",
        *["for a while\nand turns"] * 2,
        "",
    ]
    assert subtitles_of(made) == read_subtitles(SRT.encode())
    # Where nothing is said there are no letters, and nothing else.
    assert np.isfinite(bake(made, np.array([0.0])).camera_position).all()
    again = apply_edit(made, with_subtitles(made, [Cue(0, 1, "EBB")])).shot
    assert list(again.titles) == ["subtitles", "subtitles-2"]


def test_cues_that_overlap_take_each_others_place_and_late_ones_are_left_out() -> None:
    shot = Shot(format=Format(frames=50), things={})
    made = apply_edit(
        shot, with_subtitles(shot, [Cue(0, 1.6, "A"), Cue(0.8, 1.2, "B"), Cue(9, 10, "C")])
    ).shot
    keys = made.changes["/things/subtitles/words"].keys
    assert [(key.frame, key.value) for key in keys] == [(0, "A"), (20, "B"), (30, "")]
    with pytest.raises(SubtitleError, match="no subtitle falls into this shot"):
        with_subtitles(shot, [Cue(9, 10, "C")])


def test_spans_and_titles_unseen_are_minded() -> None:
    shot = Shot(format=Format(frames=100))
    shot.things["a"] = Title(words="EBB", span=Span(whole=False, start=25, end=50))
    shot.things["b"] = Title(words="UNSEEN")
    shot.things["b"].visibility.camera = False
    assert subtitles_of(shot) == [Cue(1.0, 2.0, "EBB")]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no subtitles in this file"),
        (b"\xff\xfe\x00", "line 1 is not text in UTF-8"),
        (b"1\n00:00:02,000 --> 00:00:01,000\nx\n", "line 2: a subtitle ends before it begins"),
        (b"1\n00:aa --> 01:00\nx\n", "line 2 has times that cannot be read"),
        (b"00:00:01,000 --> 00:00:02,000\n" + b"x" * 601, "at most 600 characters"),
        (
            b"".join(b"00:00:%02d,%03d --> 01:00:00,000\nx\n\n" % divmod(k, 1000) for k in range(300)),
            "at most 250",
        ),
    ],
)
def test_what_are_no_subtitles_is_a_sentence(data: bytes, says: str) -> None:
    with pytest.raises(SubtitleError, match=says):
        read_subtitles(data)


@pytest.mark.parametrize("place", [(0.5, 0.4, 4.0), (-3.0, 2.0, 1.0), (0.0, 0.2, -5.0)])
def test_they_stand_low_in_the_picture_and_face_the_camera(place: tuple[float, float, float]) -> None:
    shot = Shot(format=Format(frames=50), things={})
    shot.camera.position.x, shot.camera.position.y, shot.camera.position.z = place
    shot.camera.aim.y = 0.3
    made = apply_edit(shot, with_subtitles(shot, [Cue(0, 1, "THE TIDE")])).shot
    (seen,) = sight(made, 0).seen(
        np.array([list(made.titles["subtitles"].place.position.model_dump().values())])
    )
    assert seen == pytest.approx([0.5, 0.86], abs=1e-6)
    turned = bake(made, np.array([0.0])).titles["subtitles"].matrix[0]
    towards = np.array(place) - [made.camera.aim.x, made.camera.aim.y, made.camera.aim.z]
    assert np.allclose(turned[:3, 2], towards / np.linalg.norm(towards), atol=1e-6)
