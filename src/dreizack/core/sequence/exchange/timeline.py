"""Sequences as OpenTimelineIO: tracks, clips, transitions, markers; what only we know goes along as
metadata."""

from __future__ import annotations

from typing import Any

import opentimelineio as otio

from ...readers.timeline import OURS
from ..bundle import Bundle
from ..document import Lane, Sequence, SequencePiece

DISSOLVE = "SMPTE_Dissolve"


def write_timeline(bundle: Bundle) -> str:
    """The text of an .otio file: the line, a track a lane above it, a track a sound."""
    sequence = bundle.sequence
    rate = sequence.rate.per_second
    timeline = otio.schema.Timeline(sequence.name, global_start_time=otio.opentime.RationalTime(0, rate))
    plain = sequence.model_dump(mode="json", exclude={"line", "lanes", "sounds", "markers"})
    timeline.metadata[OURS] = {"sequence": plain}
    timeline.tracks.append(_line(bundle, rate))
    for lane in sequence.lanes:
        timeline.tracks.append(_lane(lane, bundle, rate))
    for name, sound in sequence.sounds.items():
        track = otio.schema.Track(sound.name, kind=otio.schema.TrackKind.Audio)
        if sound.start > 0:
            track.append(otio.schema.Gap(duration=otio.opentime.RationalTime(round(sound.start), rate)))
        lasts = max(1, sequence.total - round(max(sound.start, 0)))
        clip = otio.schema.Clip(
            sound.name,
            otio.schema.ExternalReference(f"library/{sound.file}"),
            _range(sound.skip * rate, lasts, rate),
        )
        clip.metadata[OURS] = {"sound": sound.model_dump(mode="json"), "name": name}
        track.append(clip)
        timeline.tracks.append(track)
    for marker in sequence.markers:
        made = otio.schema.Marker(marker.name, _range(marker.frame, 1, rate))
        made.metadata[OURS] = {"note": marker.note}
        timeline.tracks.markers.append(made)
    text: str = timeline.to_json_string(indent=1)
    return text + "\n"


def _range(start: float, lasts: float, rate: float) -> Any:
    return otio.opentime.TimeRange(
        otio.opentime.RationalTime(start, rate), otio.opentime.RationalTime(lasts, rate)
    )


def _line(bundle: Bundle, rate: float) -> Any:
    """Clips do not overlap there: each cut lies in the middle of its transition."""
    track = otio.schema.Track("Line", kind=otio.schema.TrackKind.Video)
    pieces = bundle.sequence.line
    for index, piece in enumerate(pieces):
        overlap = piece.transition.overlap if index else 0
        following = pieces[index + 1].transition.overlap if index + 1 < len(pieces) else 0
        if overlap:
            before, after = halves(overlap)
            made = otio.schema.Transition(
                piece.transition.kind,
                DISSOLVE if piece.transition.kind == "dissolve" else otio.schema.TransitionTypes.Custom,
                otio.opentime.RationalTime(before, rate),
                otio.opentime.RationalTime(after, rate),
            )
            track.append(made)
        head = halves(overlap)[0]
        tail = halves(following)[1]
        track.append(_clip(piece, bundle, head, piece.frames - head - tail, rate))
    return track


def halves(overlap: int) -> tuple[int, int]:
    """How much of a transition lies before its cut, and after."""
    return overlap // 2, overlap - overlap // 2


def _lane(lane: Lane, bundle: Bundle, rate: float) -> Any:
    track = otio.schema.Track(lane.name, kind=otio.schema.TrackKind.Video)
    track.metadata[OURS] = {"lane": {"on": lane.on}}
    at = 0
    for laid in sorted(lane.pieces, key=lambda one: one.at):
        if laid.at > at:
            track.append(otio.schema.Gap(duration=otio.opentime.RationalTime(laid.at - at, rate)))
        clip = _clip(laid.piece, bundle, 0, laid.piece.frames, rate)
        clip.metadata[OURS]["fades"] = [laid.fade_in, laid.fade_out]
        track.append(clip)
        at = laid.at + laid.piece.frames
    return track


def _clip(piece: SequencePiece, bundle: Bundle, head: int, lasts: int, rate: float) -> Any:
    plain = piece.model_dump(mode="json")
    source = _range(piece.course(float(head)), lasts, rate)
    if piece.kind != "shot":
        reference = otio.schema.GeneratorReference(
            "colour", "SolidColor", _range(0, piece.frames, rate), dict(plain["colour"])
        )
        clip = otio.schema.Clip(piece.name or "BLACK", reference, source)
    else:
        shot = bundle.shots[piece.shot]
        reference = otio.schema.MissingReference(shot.name, _range(0, shot.format.frames, rate))
        clip = otio.schema.Clip(shot.name, reference, source)
    if not piece.as_filmed:
        # Timelines know no ramps: its speed in the mean; ours read the ramp itself.
        clip.effects.append(otio.schema.LinearTimeWarp("speed", time_scalar=piece.pace))
    clip.metadata[OURS] = {"piece": plain}
    return clip


def _settings(meta: dict[str, Any]) -> dict[str, Any]:
    """What only we know of a sequence."""
    found = meta.get("sequence")
    return found if isinstance(found, dict) else {}


def sequence_settings(plain: dict[str, Any]) -> dict[str, Any]:
    """Values of :class:`Sequence` that a timeline of ours holds."""
    return {name: value for name, value in _settings(plain["meta"]).items() if name in Sequence.model_fields}
