"""Subtitles: SubRip (SRT) and WebVTT (W3C, 2019) to words over time, and back."""

from __future__ import annotations

import html
import re
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..document import Body, Colour, Edge, Finish, Shot, Title, Vector
from ..document.ground import Turn
from ..document.plain_text import CONTROL_IN_WORDS
from ..document.pointer import escaped
from ..document.setting import MAX_WORDS
from ..scene import bake, frame_state

Patch = list[dict[str, Any]]

MAX_BYTES = 4_000_000
# Changes of one value there may be at most: two a cue.
MAX_CUES = 250
# Below the middle, and as high as capitals are, in heights of the picture.
LOW, HIGH = 0.36, 0.036
# Hours are left out in WebVTT where there are none; SubRip has a comma before parts of seconds.
STAMP = r"(?:(\d{1,3}):)?(\d{1,2}):(\d{1,2})[.,](\d{1,3})"
TIMES = re.compile(rf"^\s*{STAMP}\s*-->\s*{STAMP}(?:\s.*)?$")
TAGS = re.compile(r"<[^<>]{0,200}>|\{\\[^{}]{0,100}\}")


class SubtitleError(ValueError):
    """A file that holds no subtitles that can be taken; the text says where and why."""


@dataclass(frozen=True)
class Cue:
    """Words from one second to another."""

    start: float
    end: float
    words: str


def read_subtitles(data: bytes) -> list[Cue]:
    """Cues of an SRT or WebVTT file, in order of time; SubtitleError names the line. Marks of style are left
    out.

    >>> read_subtitles(b"1\\n00:00:01,000 --> 00:00:02,500\\nEbb <i>tide</i>\\n")
    [Cue(start=1.0, end=2.5, words='Ebb tide')]
    """
    if len(data) > MAX_BYTES:
        raise SubtitleError(f"the file is larger than {MAX_BYTES // 1_000_000} MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as why:
        line = data[: why.start].count(b"\n") + 1
        raise SubtitleError(f"line {line} is not text in UTF-8; save the subtitles in UTF-8") from None
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    cues, at = [], 0
    while at < len(lines):
        if "-->" not in lines[at]:
            at += 1
            continue
        found = TIMES.match(lines[at])
        if found is None:
            raise SubtitleError(f"line {at + 1} has times that cannot be read: '{lines[at].strip()[:60]}'")
        start, end = _seconds(found.groups()[:4]), _seconds(found.groups()[4:])
        if end <= start:
            raise SubtitleError(f"line {at + 1}: a subtitle ends before it begins")
        words, at = [], at + 1
        while at < len(lines) and lines[at].strip():
            words.append(lines[at])
            at += 1
        plain = CONTROL_IN_WORDS.sub("", html.unescape(TAGS.sub("", "\n".join(words)))).strip()
        if len(plain) > MAX_WORDS:
            raise SubtitleError(f"line {at}: a subtitle has at most {MAX_WORDS} characters")
        if plain:
            cues.append(Cue(start, end, plain))
    if not cues:
        raise SubtitleError("there are no subtitles in this file (SRT or WebVTT)")
    if len(cues) > MAX_CUES:
        raise SubtitleError(f"a title takes at most {MAX_CUES} subtitles, this file has {len(cues)}; cut it")
    return sorted(cues, key=lambda cue: cue.start)


def _seconds(parts: tuple[str | None, ...]) -> float:
    hours, minutes, seconds, rest = parts
    assert minutes is not None and seconds is not None and rest is not None
    whole = int(hours or 0) * 3600 + int(minutes) * 60 + int(seconds)
    return (whole * 1000 + int(rest.ljust(3, "0"))) / 1000


def write_subtitles(cues: list[Cue], kind: str) -> str:
    """Cues as an ``srt`` or ``vtt`` file.

    >>> write_subtitles([Cue(1.0, 2.5, "Ebb")], "vtt").splitlines()
    ['WEBVTT', '', '00:00:01.000 --> 00:00:02.500', 'Ebb']
    """
    mark = "," if kind == "srt" else "."
    blocks = ["WEBVTT"] if kind == "vtt" else []
    for number, cue in enumerate(cues, 1):
        times = f"{_stamp(cue.start, mark)} --> {_stamp(cue.end, mark)}"
        words = re.sub(r"\n\s*\n", "\n", cue.words)
        told = words.replace("&", "&amp;").replace("<", "&lt;") if kind == "vtt" else words
        # What looks like times would be read as such.
        told = told.replace("-->", "->")
        blocks.append("\n".join(([str(number)] if kind == "srt" else []) + [times, told]))
    return "\n\n".join(blocks) + "\n"


def _stamp(seconds: float, mark: str) -> str:
    whole, rest = divmod(round(seconds * 1000), 1000)
    minutes, left = divmod(whole, 60)
    return f"{minutes // 60:02d}:{minutes % 60:02d}:{left:02d}{mark}{rest:03d}"


def with_subtitles(shot: Shot, cues: list[Cue], name: str = "Subtitles") -> Patch:
    """The edit that adds a title whose words are those of the cues when they are, and none between. It stands
    low in the picture; SubtitleError where no cue falls into the shot."""
    rate = shot.format.rate.per_second
    words: dict[int, str] = {}
    for cue in cues:
        first, end = round(cue.start * rate), max(round(cue.start * rate) + 1, round(cue.end * rate))
        if first >= shot.format.frames:
            continue
        # A cue that begins before the last one ended takes its place.
        words = {frame: told for frame, told in words.items() if frame < first}
        words[first] = cue.words
        if end < shot.format.frames:
            words[end] = ""
    if not words:
        raise SubtitleError("no subtitle falls into this shot; make the shot longer, or choose others")
    if min(words) > 0:
        words[0] = ""
    made = Title(name=name, words=next(told for told in words.values() if told))
    made.setting.typeface, made.setting.align = "noto-sans", "centre"
    _stand_low(shot, made)
    thing, number = "subtitles", 2
    while thing in shot.things:
        thing, number = f"subtitles-{number}", number + 1
    keys = [{"frame": frame, "value": words[frame]} for frame in sorted(words)]
    return [
        {"op": "add", "path": f"/things/{thing}", "value": made.model_dump(mode="json")},
        {"op": "add", "path": f"/changes/{escaped(f'/things/{thing}/words')}", "value": {"keys": keys}},
    ]


def _stand_low(shot: Shot, title: Title) -> None:
    """Plain white words in the lower part of the picture, as far away as what the camera looks at, and turned
    to it."""
    pose = frame_state(shot, bake(shot, np.array([0.0])), 0).pose
    _, up, ahead = pose.axes
    away = max(float((pose.aim - pose.position) @ ahead), 0.1)
    high = 2 * away * float(np.tan(np.radians(pose.angle / 2)))
    x, y, z = (pose.position + ahead * away - up * LOW * high).tolist()
    title.place.position = Vector(x=x, y=y, z=z)
    title.place.rotation = Turn(
        x=float(np.degrees(np.arcsin(np.clip(ahead[1], -1, 1)))),
        y=float(np.degrees(np.arctan2(-ahead[0], -ahead[2]))),
    )
    title.setting.size = float(np.clip(HIGH * high, 0.005, 20))
    plain = Edge(profile="none", reach=0, rise=0)
    title.body = Body(depth=max(0.001, 0.1 * title.setting.size), front=plain, back=plain.model_copy())
    title.finish = Finish(base_colour=Colour(r=0.8, g=0.8, b=0.8), metallic=0, roughness=0.6)


def subtitles_of(shot: Shot) -> list[Cue]:
    """What titles say when, in order of time: those seen by the camera, in their spans, word by word as they
    change."""
    rate, frames = shot.format.rate.per_second, shot.format.frames
    cues = []
    for name, title in shot.titles.items():
        if not title.visibility.camera:
            continue
        first, last = (0, frames) if title.span.whole else (title.span.start, min(title.span.end, frames))
        changes = shot.changes.get(f"/things/{name}/words")
        told = [(key.frame, str(key.value)) for key in changes.keys] if changes else [(0, title.words)]
        told[0] = (0, told[0][1])
        ends = [frame for frame, _ in told[1:]] + [frames]
        for (frame, words), end in zip(told, ends, strict=True):
            begin, until = max(frame, first), min(end, last)
            if words.strip() and until > begin:
                cues.append(Cue(begin / rate, until / rate, words.strip()))
    return sorted(cues, key=lambda cue: (cue.start, cue.end))
