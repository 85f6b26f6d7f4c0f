"""A sequence as data: pieces in order, lanes above them, sounds, markers."""

from __future__ import annotations

import itertools
from typing import Any, Literal, TypeVar

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, ValidationError, field_validator, model_validator

from ..document import Colour, EditRefused, Marker, Rate, Sound
from ..document.edits import Patch, patched
from ..document.ground import Section, choice, colour, frames, number, switch
from ..document.plain_text import Line as Text
from ..document.plain_text import Lines
from ..document.setting import MAX_WORDS

F = TypeVar("F", float, NDArray[np.float64])

MAX_PIECES, MAX_LANES, MAX_VERSIONS = 400, 8, 500
# Frames of a sequence: half an hour at 25 a second.
MAX_SEQUENCE = 45_000


class Transition(Section):
    """How a piece comes in, over ``frames`` in which the one before it is still there."""

    kind: Literal["cut", "dissolve", "dip", "flash", "wipe", "circle", "push", "letters", "camera"] = choice(
        "cut",
        label="comes in",
        tells="At once; by a dissolve in light; through a colour; through a flash; behind an edge that "
        "travels; from a circle; pushing the other out; through the letters of what was there; or by the "
        "camera, which goes from where it is in one shot to where it is in the next.",
    )
    frames: int = frames(
        0,
        label="over",
        tells="Frames in which both are there; the piece begins so much earlier.",
        when="kind=dissolve,dip,flash,wipe,circle,push,letters,camera",
    )
    ease: Literal["even", "soft"] = choice(
        "even",
        label="pace",
        tells="Evenly, or gently at both ends.",
        when="kind=dissolve,dip,wipe,circle,push,letters,camera",
    )
    angle: float = number(
        0.0,
        -360,
        360,
        label="direction",
        unit="°",
        step=1,
        keyable=False,
        tells="Where it travels: 0 to the right, 90 upward.",
        when="kind=wipe,push",
    )
    softness: float = number(
        0.05,
        0,
        1,
        label="softness",
        step=0.01,
        keyable=False,
        tells="Width of the edge, in heights of the picture.",
        when="kind=wipe,circle",
    )
    strength: float = number(
        4.0,
        0,
        10,
        label="flash",
        unit="stops",
        step=0.1,
        keyable=False,
        tells="How far light rises in the middle.",
        when="kind=flash",
    )
    colour: Colour = colour(0, 0, 0, label="colour", tells="What it dips to.", when="kind=dip")

    @property
    def overlap(self) -> int:
        """Frames in which both pieces are there."""
        return 0 if self.kind == "cut" else self.frames


class SequencePiece(Section):
    """What is seen for some ``frames``: a stretch of a shot, or of another sequence, from its frame ``skip``
    on, or a colour."""

    kind: Literal["shot", "colour", "sequence"] = "shot"
    name: Text = Field("", max_length=120)
    shot: Text = Field("", max_length=80)
    sequence: Text = Field("", max_length=80)
    skip: float = number(
        0.0,
        0,
        200_000,
        label="from",
        unit="frames",
        step=0.5,
        keyable=False,
        tells="The frame of the shot it begins with.",
    )
    frames: int = Field(
        50,
        ge=1,
        le=200_000,
        title="lasts",
        description="Frames of the sequence, those of its transition among them.",
        json_schema_extra={"keyable": False, "unit": "frames", "step": 0.5},
    )
    speed: float = number(
        1.0,
        -8,
        8,
        label="speed",
        unit="×",
        step=0.01,
        keyable=False,
        tells="Frames of the shot a frame: below 0 it runs backwards, at 0 it stands.",
    )
    gains: float = number(
        0.0,
        -100,
        100,
        label="speed gains",
        unit="% a frame",
        step=0.05,
        keyable=False,
        tells="How much faster it becomes with each frame: a ramp of speed.",
    )
    heard: bool = switch(True, label="heard", tells="Whether the sound of the shot is mixed in.")
    gain: float = number(
        0.0,
        -60,
        12,
        label="gain",
        unit="dB",
        step=0.1,
        keyable=False,
        tells="How loud the sound of the shot is here; at −60 silent.",
        when="heard=true",
    )
    colour: Colour = Field(default_factory=lambda: Colour(r=0, g=0, b=0))
    transition: Transition = Field(default_factory=Transition)

    def course(self, index: F) -> F:
        """The frame of the shot at frames of the piece, which may lie before its first one."""
        return self.skip + index * self.speed + index * index * (self.gains / 200)

    def shot_frame(self, index: int) -> float:
        """The frame of the shot at a frame of the piece."""
        return max(0.0, self.course(float(index)))

    def begun(self, first: int) -> dict[str, float]:
        """What makes it begin so many frames later and run on as it does."""
        speed = max(-8.0, min(8.0, self.speed + first * self.gains / 100))
        return {"skip": self.shot_frame(first), "speed": speed}

    @property
    def as_filmed(self) -> bool:
        """Whether it runs at the speed of its shot."""
        return self.speed == 1 and self.gains == 0

    @property
    def pace(self) -> float:
        """Its speed in the mean of all its frames."""
        return self.speed + self.frames * self.gains / 200


class Laid(Section):
    """A piece on a lane, from a frame of the sequence on."""

    at: int = Field(0, ge=0, le=MAX_SEQUENCE)
    piece: SequencePiece = Field(default_factory=SequencePiece)
    fade_in: int = frames(0, label="fades in", tells="Comes up over so many frames.")
    fade_out: int = frames(0, label="fades out", tells="Goes over so many frames.")


class Lane(Section):
    """Titles over what is on the line; of their shots only the words are seen, not what is behind them."""

    name: Text = Field("Titles", min_length=1, max_length=60)
    on: bool = switch(True, label="seen", tells="Off, nothing of it is in the picture.")
    pieces: list[Laid] = Field(default_factory=list, max_length=MAX_PIECES)


class Level(Section):
    """How loud a sound is so many frames after it begins, besides its gain; between levels it goes evenly."""

    frame: float = Field(0.0, ge=0, le=200_000)
    gain: float = Field(0.0, ge=-60, le=12)


class HeardSound(Sound):
    """A sound of a sequence, with levels over time."""

    levels: list[Level] = Field(default_factory=list, max_length=500)

    @field_validator("levels")
    @classmethod
    def in_order(cls, levels: list[Level]) -> list[Level]:
        frames = [level.frame for level in levels]
        if any(later <= earlier for earlier, later in itertools.pairwise(frames)):
            raise ValueError("levels stand in order of their frames, no two at one frame")
        return levels


class Crop(Section):
    """The part of a shot's picture that is seen in another shape: ``zoom`` 1 is as much as fits, ``x`` and
    ``y`` where it lies, from 0 (left, top) to 1 (right, bottom)."""

    zoom: float = Field(1.0, ge=1, le=4)
    x: float = Field(0.5, ge=0, le=1)
    y: float = Field(0.5, ge=0, le=1)


class Version(Section):
    """Another text or format of a sequence: ``texts`` by shot and title ("shot/title"); without ``words`` no
    title is seen. ``crops`` by shot: framed by hand, not by rule."""

    name: Text = Field("original", min_length=1, max_length=60)
    width: int = Field(1920, ge=16, le=8192)
    height: int = Field(1080, ge=16, le=8192)
    words: bool = True
    texts: dict[Text, Lines] = Field(default_factory=dict, max_length=1000)
    crops: dict[Text, Crop] = Field(default_factory=dict, max_length=MAX_PIECES)

    @model_validator(mode="after")
    def short_enough(self) -> Version:
        for where, text in self.texts.items():
            if not 0 < len(text) <= MAX_WORDS:
                raise ValueError(f"the text of {where[:80]} has {len(text)} characters; 1 to {MAX_WORDS} do")
        return self


class Sequence(Section):
    """Pieces one after the other (``line``), lanes above, sounds from frames of the sequence on, ``crops`` of
    shots that are framed by hand, and ``loudness``: what the mix is brought to, in LUFS (0: as it is)."""

    name: Text = Field("Untitled sequence", min_length=1, max_length=120)
    width: int = Field(1920, ge=16, le=8192)
    height: int = Field(1080, ge=16, le=8192)
    rate: Rate = Field(default_factory=lambda: Rate(num=25, den=1))
    framing: Literal["fit", "fill"] = choice(
        "fit",
        label="other formats",
        tells="A picture of another shape shows all that its shot shows and more, or cuts it off.",
    )
    line: list[SequencePiece] = Field(default_factory=list, max_length=MAX_PIECES)
    lanes: list[Lane] = Field(default_factory=list, max_length=MAX_LANES)
    sounds: dict[Text, HeardSound] = Field(default_factory=dict, max_length=32)
    markers: list[Marker] = Field(default_factory=list, max_length=500)
    versions: list[Version] = Field(default_factory=list, max_length=MAX_VERSIONS)
    crops: dict[Text, Crop] = Field(default_factory=dict, max_length=MAX_PIECES)
    loudness: float = number(
        0.0,
        -40,
        0,
        label="loudness",
        unit="LUFS",
        step=0.1,
        keyable=False,
        tells="What the whole mix is brought to (EBU R 128 asks for -23); 0 leaves it as it is.",
    )

    @model_validator(mode="after")
    def coherent(self) -> Sequence:
        for index, piece in enumerate(self.line):
            if piece.kind == "shot" and not piece.shot:
                raise ValueError(f"piece {index + 1} names no shot")
            if piece.kind == "sequence" and not (piece.sequence and piece.as_filmed):
                raise ValueError(
                    f"piece {index + 1} names no sequence, or another speed than 1; they run at their own"
                )
            after = self.line[index + 1].transition.overlap if index + 1 < len(self.line) else 0
            before = piece.transition.overlap if index else 0
            if before + after > piece.frames:
                raise ValueError(
                    f"piece {index + 1} lasts {piece.frames} frames, but its transitions take "
                    f"{before + after}; make it longer or them shorter"
                )
        if any(laid.piece.kind == "sequence" for lane in self.lanes for laid in lane.pieces):
            raise ValueError("a sequence within a sequence lies on the line, not over it")
        if self.total > MAX_SEQUENCE:
            raise ValueError(f"a sequence has at most {MAX_SEQUENCE} frames, this one has {self.total}")
        return self

    @property
    def starts(self) -> list[int]:
        """The frame each piece of the line begins at."""
        found, at = [], 0
        for index, piece in enumerate(self.line):
            at -= piece.transition.overlap if index else 0
            found.append(at)
            at += piece.frames
        return found

    @property
    def total(self) -> int:
        """Frames from the first to the last; what lies on lanes counts too."""
        ends = [start + piece.frames for start, piece in zip(self.starts, self.line, strict=True)]
        laid = [one.at + one.piece.frames for lane in self.lanes if lane.on for one in lane.pieces]
        return max([0, *ends, *laid])

    @property
    def pieces(self) -> list[SequencePiece]:
        """All pieces, of the line and of lanes."""
        return [*self.line, *(one.piece for lane in self.lanes for one in lane.pieces)]

    @property
    def sequences(self) -> list[str]:
        """Names of the sequences within it, each once."""
        return list(dict.fromkeys(piece.sequence for piece in self.line if piece.kind == "sequence"))

    @property
    def shots(self) -> list[str]:
        """Names of the shots it needs, each once."""
        return list(dict.fromkeys(piece.shot for piece in self.pieces if piece.kind == "shot"))


def read_sequence(tree: Any) -> Sequence:
    """A sequence from plain JSON data; EditRefused names the first fault and where it is."""
    try:
        return Sequence.model_validate(tree)
    except ValidationError as faults:
        first = faults.errors(include_url=False)[0]
        where = "/" + "/".join(str(step) for step in first["loc"])
        raise EditRefused(where, first["msg"].removeprefix("Value error, ")) from None


def apply_sequence_edit(sequence: Sequence, patch: Patch) -> tuple[Sequence, Patch]:
    """A sequence after a patch, and the patch that takes it back; EditRefused where it does not fit."""
    return patched(sequence, patch, read_sequence, "sequence")
