"""Words over time: numbers as they are written, letters as they resolve, bodies as few as need be."""

from __future__ import annotations

from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from dreizack.core.document import Channel, Format, Key, Shot, Telling, Title
from dreizack.core.scene import bake, frame_names
from dreizack.core.scene.told import clock, counted, dated, timecode


def shot_of(words: str, keys: list[tuple[float, float]], value: str = "value", **telling: object) -> Shot:
    title = Title(words=words, telling=Telling.model_validate(telling))
    channel = Channel.model_validate(
        {"keys": [{"frame": f, "value": v, "ease": {"kind": "linear"}} for f, v in keys]}
    )
    return Shot(
        format=Format(frames=60),
        things={"title": title},
        channels={f"/things/title/telling/{value}": channel},
    )


def shown(shot: Shot, frames: list[float]) -> list[str]:
    body = bake(shot, np.array(frames)).titles["title"]
    return [body.forms[int(k)].thing.words for k in body.form]  # type: ignore[union-attr]


@given(st.decimals(-(10**9), 10**9, places=4), st.integers(0, 3), st.integers(1, 8))
def test_numbers_are_rounded_and_grouped_as_by_hand(value: Decimal, decimals: int, least: int) -> None:
    told = counted(Telling(kind="count", decimals=decimals, least=least, grouping="comma"), float(value))
    exact = abs(value).quantize(Decimal(1).scaleb(-decimals), ROUND_HALF_UP)
    plain = told.lstrip("\u2212").replace(",", "")
    assert Decimal(plain) == exact and len(plain.partition(".")[0]) >= least
    assert told.startswith("\u2212") == (value < 0 and exact != 0)
    whole = told.lstrip("\u2212").partition(".")[0]
    assert all(len(group) == 3 for group in whole.split(",")[1:]) and 1 <= len(whole.split(",")[0]) <= 3


@given(st.integers(0, 360_000), st.integers(0, 99))
def test_clocks_show_what_has_gone(seconds: int, part: int) -> None:
    told = clock(Telling(kind="clock", clock="mm:ss.00"), seconds + part / 100)
    minutes, rest = told.split(":")
    assert int(minutes) * 60 + int(rest[:2]) == seconds and int(rest[3:]) == part


@given(st.integers(-800, 100_000))
def test_dates_are_those_of_the_calendar(days: int) -> None:
    told = dated(Telling(kind="date", begins="2031-03-20", written="2031-03-20"), days)
    assert date.fromisoformat(told) == date(2031, 3, 20) + timedelta(days=days)
    assert dated(Telling(kind="date"), 1e12) == "31.12.9999"


def test_timecode_counts_at_the_rounded_rate() -> None:
    film = Format.model_validate({"rate": {"num": 24000, "den": 1001}})
    assert timecode(24 * 3661 + 5, film) == "01:01:01:05"


def test_a_number_stands_where_the_words_say_and_makes_one_form_a_number() -> None:
    shot = shot_of("# KNOTS", [(0, 0), (40, 8)], kind="count")
    assert shown(shot, [0, 10, 20, 40, 59]) == ["0 KNOTS", "2 KNOTS", "4 KNOTS", "8 KNOTS", "8 KNOTS"]
    assert len(bake(shot).titles["title"].forms) == 9
    assert shown(shot_of("EBB", [(0, 7)], kind="count"), [0]) == ["7"]
    names = frame_names(shot, np.arange(60.0))
    body = bake(shot).titles["title"]
    for a in range(59):
        assert (names[a] == names[a + 1]) <= (body.form[a] == body.form[a + 1])


def test_letters_are_told_one_by_one() -> None:
    shot = shot_of("EBB\nTIDE", [(0, 0), (49, 1)], "progress", kind="letter by letter")
    assert shown(shot, [0, 7, 21, 28, 49]) == ["", "E", "EBB", "EBB\nT", "EBB\nTIDE"]


def test_letters_resolve_from_random_characters_and_stay() -> None:
    shot = shot_of(
        "SLACK WATER", [(0, 0), (50, 1)], "progress", kind="resolving", pool="xyz", changes=3, seed=4
    )
    frames = [float(f) for f in range(60)]
    told = shown(shot, frames)
    assert told == shown(shot, frames) and told[-1] == "SLACK WATER"
    assert all(len(words) == 11 and words[5] == " " for words in told)
    assert set(told[0]) <= set("xyz ")
    done = np.array([[a == b for a, b in zip(words, "SLACK WATER", strict=True)] for words in told])
    assert (np.diff(done.astype(int), axis=0) >= 0).all()
    assert told[0] == told[2] and told[0] != told[3]
    assert len(set(frame_names(shot, np.arange(60.0)))) >= 17


def test_a_date_that_is_none_is_refused_in_words() -> None:
    with pytest.raises(ValidationError, match="'2031-13-01' is no date"):
        Telling(begins="2031-13-01")


def test_sets_go_on_over_changing_words() -> None:
    shot = shot_of("#", [(0, 8), (40, 12)], kind="count")
    shot.titles["title"].sets = [{"step": 1, "timing": {"order": "reading", "delay": 5}}]  # type: ignore[list-item]
    shot = Shot.model_validate(shot.model_dump())
    shot.channels["/things/title/sets/0/move/y"] = Channel(
        keys=[Key(frame=0, value=0), Key(frame=20, value=1)]
    )
    poses = bake(shot).titles["title"].poses
    assert poses.shape[1] == 2 and poses[59, :, 1, 3] == pytest.approx([1, 1], abs=1e-12)


def test_digits_whose_widths_are_held_do_not_jitter() -> None:
    wide = {}
    for widths in ("held", "free"):
        shot = shot_of("#", [(0, 1111), (10, 8888)], kind="count", widths=widths, grouping="none")
        shot.titles["title"].setting.typeface = "barlow-condensed"
        baked = bake(shot, np.array([0.0, 10.0])).titles["title"]
        layouts = [baked.forms[int(k)].pieces.layout for k in baked.form]
        wide[widths] = [float(np.ptp(layout.places[:, 0])) for layout in layouts if layout is not None]
    assert wide["held"][0] == pytest.approx(wide["held"][1], abs=1e-6)
    assert abs(wide["free"][0] - wide["free"][1]) > 0.1
