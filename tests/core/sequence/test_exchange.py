"""Sequences as files: timelines, edit decision lists, bundles, tables of versions."""

from __future__ import annotations

import io
import json
import re

import openpyxl
import opentimelineio as otio
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.document import Colour, Format, Marker, Shot
from dreizack.core.sandbox import FileRefused
from dreizack.core.sequence import (
    Bundle,
    Laid,
    Lane,
    Sequence,
    SequenceFileError,
    SequencePiece,
    TableError,
    Transition,
    Version,
    read_bundle,
    read_table,
    versioned,
    write_bundle,
    write_table,
)
from dreizack.core.sequence.document import HeardSound, Level
from dreizack.core.sequence.exchange import read_edit, timecode, write_edit_list, write_timeline

NAMES = {"a": "First light", "b": "Ebb", "c": "Ebb tide, slack"}


def shots() -> dict[str, Shot]:
    return {name: Shot(name=called, format=Format(frames=200)) for name, called in NAMES.items()}


def known() -> dict[str, tuple[str, Format]]:
    return {called: (name, Format(frames=200)) for name, called in NAMES.items()}


@st.composite
def bundles(draw: st.DrawFn, plain: bool = False) -> Bundle:
    lengths = draw(st.lists(st.integers(8, 60), min_size=1, max_size=6))
    kinds = (
        ["dissolve", "wipe"] if plain else ["dissolve", "wipe", "dip", "push", "letters", "flash", "circle"]
    )
    line = []
    for index, length in enumerate(lengths):
        overlap = draw(st.integers(0, min(length, lengths[index - 1]) // 2)) if index else 0
        how = Transition(kind=draw(st.sampled_from(kinds)) if overlap else "cut", frames=overlap)
        if draw(st.booleans()) and index and not overlap:
            line.append(SequencePiece(kind="colour", name="BLACK", frames=length, transition=how))
        else:
            speed = 1.0 if plain else draw(st.sampled_from([1.0, 1.0, 2.0, 0.5]))
            gains = 0.0 if plain else draw(st.sampled_from([0.0, 0.0, 4.0]))
            name = draw(st.sampled_from(list(NAMES)))
            skip = draw(st.integers(0, 50))
            line.append(
                SequencePiece(
                    shot=name,
                    name=NAMES[name],
                    skip=skip,
                    frames=length,
                    speed=speed,
                    gains=gains,
                    transition=how,
                )
            )
    return Bundle(Sequence(name="Opening", line=line), shots())


@settings(max_examples=12)
@given(bundles())
def test_timelines_come_back_equal(bundle: Bundle) -> None:
    assert read_edit(write_timeline(bundle).encode(), "", known()) == bundle.sequence


def test_lanes_sounds_markers_and_settings_come_back_too() -> None:
    sequence = Sequence(
        name="Opening",
        framing="fill",
        loudness=-23,
        line=[SequencePiece(shot="a", name="First light", frames=40)],
        lanes=[
            Lane(
                name="Names",
                on=False,
                pieces=[Laid(at=9, piece=SequencePiece(shot="b", name="Ebb", frames=12), fade_in=3)],
            )
        ],
        sounds={"bell": HeardSound(name="Bell", file="bell.wav", levels=[Level(frame=2, gain=-9)])},
        markers=[Marker(frame=7, name="strike", note="the bell")],
        versions=[Version(name="de", texts={"a/title": "ERSTES LICHT"})],
    )
    bundle = Bundle(sequence, shots())
    assert read_edit(write_timeline(bundle).encode(), "", known()) == sequence


def test_another_reader_finds_clips_where_they_are() -> None:
    bundle = Bundle(
        Sequence(
            line=[
                SequencePiece(shot="a", frames=50),
                SequencePiece(
                    shot="b", skip=10, frames=40, transition=Transition(kind="dissolve", frames=12)
                ),
            ]
        ),
        shots(),
    )
    timeline = otio.adapters.read_from_string(write_timeline(bundle), "otio_json")
    track = timeline.tracks[0]
    clips = list(track.find_clips())
    assert [clip.name for clip in clips] == ["First light", "Ebb"]
    assert timeline.duration().value == bundle.sequence.total == 78
    ranges = [clip.trimmed_range_in_parent() for clip in clips]
    assert [(r.start_time.value, r.duration.value) for r in ranges] == [(0, 44), (44, 34)]
    assert clips[1].source_range.start_time.value == 16
    assert track[1].transition_type == "SMPTE_Dissolve" and track[1].duration().value == 12


@given(bundles(plain=True))
def test_edit_lists_come_back_with_times_and_transitions(bundle: Bundle) -> None:
    made = read_edit(write_edit_list(bundle).encode(), "", known())
    expected = bundle.sequence
    assert [(p.kind, p.shot, p.frames) for p in made.line] == [
        (p.kind, p.shot, p.frames) for p in expected.line
    ]
    assert [p.skip for p in made.line if p.kind == "shot"] == [
        p.skip for p in expected.line if p.kind == "shot"
    ]
    assert made.starts == expected.starts
    assert [p.transition.kind for p in made.line] == [p.transition.kind for p in expected.line]


def test_edit_lists_are_written_as_they_are_read_everywhere() -> None:
    line = [SequencePiece(shot="a", frames=25), SequencePiece(shot="c", skip=50, frames=25)]
    text = write_edit_list(Bundle(Sequence(name="Öffnung", line=line), shots()))
    assert text.isascii() and text.startswith("TITLE: _ffnung\r\nFCM: NON-DROP FRAME\r\n")
    assert "001  FIRSTLIG V     C        00:00:00:00 00:00:01:00 01:00:00:00 01:00:01:00" in text
    assert "002  EBBTIDES V     C        00:00:02:00 00:00:03:00 01:00:01:00 01:00:02:00" in text
    assert all(len(reel) <= 8 for reel in re.findall(r"^\d{3}  (\S+)", text, re.MULTILINE))


@given(st.integers(0, 5_000_000), st.sampled_from([24.0, 25.0, 30000 / 1001, 60.0]))
def test_timecode_comes_back(frame: int, rate: float) -> None:
    assert timecode.read(timecode.written(frame, rate), rate) == frame


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "neither a timeline"),
        (b"{}", "no timeline"),
        (b'{"OTIO_SCHEMA": "Clip.1"}', "no|something else"),
        (b"{" * 100_000, "OpenTimelineIO|deep"),
        (b"\xff\xfe\x00", "neither a timeline"),
        (
            b"001  AX V C 00:00:99:00 00:00:01:00 00:00:00:00 00:00:01:00",
            "line 1: '00:00:99:00' is no timecode",
        ),
        (b"001  AX V C 00:00:02:00 00:00:01:00 00:00:00:00 00:00:01:00", "ends before it begins"),
        (b"001  AX V C 00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00", "no shot called .AX."),
    ],
)
def test_files_that_are_no_edit_are_refused_in_words(data: bytes, says: str) -> None:
    with pytest.raises((SequenceFileError, FileRefused), match=says):
        read_edit(data, "", known())


def test_bundles_come_back_and_damaged_ones_say_where() -> None:
    bundle = Bundle(Sequence(line=[SequencePiece(shot="a", frames=9)]), shots())
    found = read_bundle(write_bundle(bundle))
    assert found.sequence == bundle.sequence and found.shots == bundle.shots
    tree = json.loads(write_bundle(bundle))
    for change, says in (
        ({"dreizack_sequence": 99}, "version 99"),
        ({"shots": {}}, "'a' of the sequence is not there"),
        ({"shots": []}, "missing"),
        ({"sequence": {"line": [{"shot": "a", "frames": -1}]}}, "/line/0/frames"),
    ):
        with pytest.raises(SequenceFileError, match=says):
            read_bundle(json.dumps(tree | change))
    for text in ("", "[]", "{", '{"a":1}', "[" * 100_000):
        with pytest.raises(SequenceFileError):
            read_bundle(text)


@pytest.fixture
def titled(shot: Shot) -> Bundle:
    return Bundle(Sequence(line=[SequencePiece(shot="a", frames=9)]), {"a": shot})


def test_tables_come_back_and_set_texts_and_formats(titled: Bundle) -> None:
    table = write_table(titled)
    assert table.splitlines()[0] == "version,size,words,Ebb / title"
    filled = table + "deutsch,1080x1920,yes,EBBE\r\ntextless,,no,\r\n"
    versions = read_table(filled.encode("utf-8-sig"), titled)
    assert [(v.name, v.width, v.height, v.words) for v in versions] == [
        ("original", 1920, 1080, True),
        ("deutsch", 1080, 1920, True),
        ("textless", 1920, 1080, False),
    ]
    german, bare = (versioned(titled, version).shots["a"].titles["title"] for version in versions[1:])
    assert german.words == "EBBE" and bare.words == "EBB" and not bare.visibility.camera
    assert titled.shots["a"].titles["title"].words == "EBB", "the shot itself is left alone"
    again = Bundle(titled.sequence.model_copy(update={"versions": versions}), titled.shots)
    assert read_table(write_table(again).encode(), again)[1].texts == {"a/title": "EBBE"}


def test_workbooks_are_read_like_tables(titled: Bundle) -> None:
    book = openpyxl.Workbook()
    book.active.append(["version", "size", "Ebb / title"])
    book.active.append(["fr", "1080x1080", "JUSANT\nBAS"])
    data = io.BytesIO()
    book.save(data)
    (version,) = read_table(data.getvalue(), titled)
    assert (version.name, version.width, version.texts) == ("fr", 1080, {"a/title": "JUSANT\nBAS"})
    with pytest.raises(FileRefused, match="CSV"):
        read_table(data.getvalue()[:200], titled)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b"name,size\nx,y", "no column 'version'"),
        (b"version,version\na,b", "two columns"),
        (
            b"version,Nobody / title\na,b",
            "no title for the column 'Nobody / title'; the titles are Ebb / title",
        ),
        (b"version,size\na,wide", "row 2, column 'size'"),
        (b"version,size\na,4x4", "row 2, column 'size'"),
        (b"version,size\na,10x9999", "row 2, width"),
        (b"version,words\na,perhaps", "row 2, column 'words'"),
        (b"version,words\n,yes", "row 2, column 'version' is empty"),
        (b"version\na\na", "row 3: another version"),
        (b"version\na,b", "row 2 has 2 columns"),
        (b"version\n\xff", "row 2 is not text in UTF-8"),
        (b"version\n" + b"\n".join(b"%d" % n for n in range(100_000)), "at most 500 versions"),
        (b"version,Ebb / title\na," + b"x" * 700, "1 to 600"),
        (b'version\n"a', "damaged"),
        (b"a\0b", "no table of text"),
    ],
)
def test_tables_that_make_no_sense_name_row_and_column(titled: Bundle, data: bytes, says: str) -> None:
    with pytest.raises(TableError, match=says):
        read_table(data, titled)


def test_cells_that_spreadsheets_would_run_are_texts(titled: Bundle) -> None:
    titled.shots["a"].titles["title"].words = "=SUM(A1)"
    table = write_table(titled)
    assert ",'=SUM(A1)" in table
    assert read_table(table.encode(), titled)[0].texts == {"a/title": "=SUM(A1)"}


def test_colour_is_kept(titled: Bundle) -> None:
    piece = SequencePiece(kind="colour", name="BLACK", frames=5, colour=Colour(r=0.5, g=0, b=0))
    bundle = Bundle(Sequence(name="x", line=[piece]), shots())
    assert read_edit(write_timeline(bundle).encode(), "", known()) == bundle.sequence
