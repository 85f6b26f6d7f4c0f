"""What is found in the pictures and the sound of a whole sequence, over its cuts and transitions."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from dreizack.commands.main import main
from dreizack.core.document import Colour
from dreizack.core.proof import Shown
from dreizack.core.sequence import Bundle, Sequence, SequencePiece, Version, sequence_proofed, write_bundle


def flashing(black: int, white: int) -> Bundle:
    """Pieces of black and of white, one after the other, for a second and a half."""
    pieces = []
    for k in range(36 // (black + white)):
        for name, level, frames in (("dark", 0.0, black), ("light", 0.9, white)):
            colour = Colour(r=level, g=level, b=level)
            pieces.append(SequencePiece(name=f"{name} {k}", kind="colour", colour=colour, frames=frames))
    sequence = Sequence(name="Flashes", width=160, height=90, line=pieces)
    sequence.rate.num, sequence.rate.den = 24, 1
    return Bundle(sequence, {})


def test_flashes_between_pieces_are_found() -> None:
    seen: list[Shown] = []
    found = sequence_proofed(flashing(2, 2), seen=seen.append)
    assert len(seen) == 36
    np.testing.assert_array_equal([one.frame for one in seen], np.arange(36))
    kinds = {one.finding.kind for one in found}
    assert "flashes" in kinds, kinds
    # No single piece flashes, and slow changes do not.
    assert not [one for one in sequence_proofed(flashing(2, 2), first=0, last=1)]
    assert "flashes" not in {one.finding.kind for one in sequence_proofed(flashing(9, 9))}


def test_a_version_is_looked_at_in_its_own_shape() -> None:
    bundle = flashing(4, 4)
    seen: list[Shown] = []
    sequence_proofed(bundle, Version(name="tall", width=90, height=160), last=3, seen=seen.append)
    assert len(seen) == 4 and seen[0].codes.shape[0] > seen[0].codes.shape[1]


def test_the_command_tells_them_too(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "flashes.json"
    path.write_text(write_bundle(flashing(2, 2)), encoding="utf-8")
    ended = main(["proof", str(path), "--json", "--pictures", "--frames", "0-30"])
    lines = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    flash = next(line for line in lines if line["kind"] == "flashes")
    assert flash["picture"].startswith("data:image/jpeg;base64,") and flash["frame"] <= 30
    assert ended == (2 if any(line["matters"] == "fault" for line in lines) else 0)
    assert main(["proof", str(path), "--versions", "nobody"]) == 1
    assert "no version 'nobody'" in capsys.readouterr().err
