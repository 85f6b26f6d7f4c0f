"""``dreizack solve``: footage to a shot file whose camera is that of the footage, with the core alone."""

from __future__ import annotations

import sys
from pathlib import Path

from tqdm import tqdm

from ..core.clips import bring_plate, plate_facts, plate_greys
from ..core.document import Shot, apply_edit, write_shot
from ..core.files import DiskFull, write_whole
from ..core.library import keep, shelve
from ..core.light import key_fill_rim
from ..core.match import Contradicts, NoSolve, report, solve_bytes, solved
from ..core.sandbox import FileRefused
from ..core.scene import with_plate, with_solve

SENSOR = 36.0


def solve(clip: str, out: str, focal_length: float | None, words: str) -> int:
    """Exit status 0 when the shot file is complete, 1 with a sentence on standard error otherwise. Plate and
    solve go into a folder ``library`` beside the shot file."""
    source, target = Path(clip), Path(out)
    library = target.resolve().parent / "library"
    try:
        library.mkdir(parents=True, exist_ok=True)
        shelve(library)
        name = bring_plate(source, library)
        facts = plate_facts(name)
        assert facts is not None, "a plate that was just kept is there"
        width = min(facts.width, 960)
        with tqdm(total=100, unit="%", desc=source.name, file=sys.stderr) as bar:

            def told(what: str, share: float) -> None:
                bar.set_description(what)
                bar.n = round(100 * share)
                bar.refresh()

            focal = None if focal_length is None else focal_length / SENSOR * width
            found = solved(plate_greys(name), focal, told=told, frames=facts.frames)
        shot = Shot.model_validate(
            {
                "name": source.stem[:120] or "Shot",
                "things": {"title": {"kind": "title", "words": words}, **key_fill_rim()},
            }
        )
        shot = apply_edit(shot, with_plate(shot, name)).shot
        shot = apply_edit(shot, with_solve(shot, keep(library, solve_bytes(found), "solve", "solve"))).shot
        write_whole(target, write_shot(shot).encode())
    except (FileRefused, NoSolve, Contradicts, DiskFull) as why:
        return _refuse(f"{source}: {why}.")
    except OSError as why:
        return _refuse(f"{why.filename or target}: {why.strerror or why}.")
    said = report(found)
    print(f"{target}: {said.verdict}; " + " ".join(said.words))
    return 0


def _refuse(sentence: str) -> int:
    print(f"dreizack: {sentence}", file=sys.stderr)
    return 1
