"""``dreizack proof``: what is to be looked at in a shot or sequence file, with the core alone."""

from __future__ import annotations

import argparse
import base64
import dataclasses
import json
import re
import sys
from pathlib import Path

import cv2

from ..core.document import Shot, ShotFileError, read_shot
from ..core.library import shelve
from ..core.media.proofing import shot_proofed
from ..core.proof import Place, Shown, checked, report
from ..core.proof.paper import report_pdf
from ..core.sequence import SequenceFileError, Version, read_bundle, sequence_checked, sequence_proofed
from .places import data_folder

# Exit statuses.
FINE, REFUSED, FAULTS = 0, 1, 2


def proof(chosen: argparse.Namespace) -> int:
    """Tell the findings; whether any of them is a fault is the exit status."""
    source = Path(chosen.shot)
    try:
        data = source.read_bytes()
        shelve(source.resolve().parent / "library")
        shelve(data_folder() / "library")
        name, places = _places(data, chosen)
        if chosen.report:
            target = Path(chosen.report)
            if target.suffix == ".pdf":
                target.write_bytes(report_pdf(name, places))
            else:
                target.write_text(report(name, places), encoding="utf-8")
    except (ShotFileError, SequenceFileError) as why:
        print(f"dreizack: {source}: {why}.", file=sys.stderr)
        return REFUSED
    except OSError as why:
        print(f"dreizack: {why.filename or source}: {why.strerror or why}.", file=sys.stderr)
        return REFUSED
    for place in places:
        if chosen.json:
            print(json.dumps(dataclasses.asdict(place)))
        else:
            where = " · ".join(part for part in (place.version, place.shot, place.thing) if part)
            print(f"{place.matters:8} frame {place.frame:5} {where}: {place.says}")
    faults = sum(place.matters == "fault" for place in places)
    print(f"{name}: {len(places)} findings, {faults} of them faults", file=sys.stderr)
    return FAULTS if faults else FINE


def _places(data: bytes, chosen: argparse.Namespace) -> tuple[str, list[Place]]:
    if b'"dreizack_sequence"' not in data[:200]:
        shot = read_shot(data)
        first, last = _frames(chosen.frames, shot.format.frames)
        if chosen.pictures:
            return shot.name, _pictured(shot, first, last)
        return shot.name, [Place.of(one) for one in checked(shot, first, last)]
    bundle = read_bundle(data)
    sequence = bundle.sequence
    versions = _versions(sequence.versions, chosen.versions)
    first, last = _frames(chosen.frames, sequence.total)
    places: list[Place] = []
    chosen_versions: list[Version | None] = [*versions] or [None]
    for version in chosen_versions:
        kept = _Kept()
        found = (
            sequence_proofed(bundle, version, first, last, seen=kept.keep)
            if chosen.pictures
            else [
                one
                for one in sequence_checked(bundle, [version] if version else None)
                if first <= one.frame <= last
            ]
        )
        places += [
            Place.of(
                one.finding,
                one.frame,
                bundle.shots[one.shot].name if one.shot else "",
                one.version,
                kept.address(one.frame),
            )
            for one in found
        ]
    return sequence.name, places


def _versions(there: list[Version], told: str | None) -> list[Version]:
    """Versions by their names with commas between; all that there are where none are named."""
    if not told or told == "all":
        return there
    named = {one.name: one for one in there}
    missing = [name for name in told.split(",") if name not in named]
    if missing:
        raise SequenceFileError(f"there is no version '{missing[0][:60]}'")
    return [named[name] for name in told.split(",")]


class _Kept:
    """Frames that were looked at, small."""

    def __init__(self) -> None:
        self.frames: dict[int, bytes] = {}

    def keep(self, shown: Shown) -> None:
        _, data = cv2.imencode(".jpg", shown.codes[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 82])
        self.frames[shown.frame] = data.tobytes()

    def address(self, frame: int) -> str:
        """A frame as a data address; empty where it was not looked at."""
        data = self.frames.get(frame)
        return f"data:image/jpeg;base64,{base64.b64encode(data).decode()}" if data else ""


def _pictured(shot: Shot, first: int, last: int) -> list[Place]:
    """Findings of pictures too, each with the frame where it is."""
    kept = _Kept()
    found = shot_proofed(shot, first, last, seen=kept.keep)
    return [Place.of(one, picture=kept.address(one.frame)) for one in found]


def _frames(told: str | None, frames: int) -> tuple[int, int]:
    if told is None:
        return 0, frames - 1
    found = re.fullmatch(r"(\d{1,6})-(\d{1,6})", told)
    if found is None or int(found[1]) > int(found[2]) or int(found[1]) >= frames:
        raise ShotFileError(f"--frames '{told[:30]}' is no range of its {frames} frames; write it like 0-24")
    return int(found[1]), min(int(found[2]), frames - 1)
