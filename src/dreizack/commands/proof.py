"""``dreizack proof``: what is to be looked at in a shot or sequence file, with the core alone."""

from __future__ import annotations

import argparse
import dataclasses
import json
import sys
from pathlib import Path

from ..core.document import ShotFileError, read_shot
from ..core.library import shelve
from ..core.proof import Place, checked, report
from ..core.sequence import SequenceFileError, read_bundle, sequence_checked
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
        name, places = _places(data)
        if chosen.report:
            Path(chosen.report).write_text(report(name, places), encoding="utf-8")
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


def _places(data: bytes) -> tuple[str, list[Place]]:
    if b'"dreizack_sequence"' not in data[:200]:
        shot = read_shot(data)
        return shot.name, [Place.of(one) for one in checked(shot)]
    bundle = read_bundle(data)
    return bundle.sequence.name, [
        Place.of(one.finding, one.frame, bundle.shots[one.shot].name, one.version)
        for one in sequence_checked(bundle, bundle.sequence.versions)
    ]
