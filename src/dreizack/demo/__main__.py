"""Write the demo's shots as files (``python -m dreizack.demo examples``), or the chips of the finishes that
ship (``python -m dreizack.demo chips``)."""

import sys
from pathlib import Path

from ..core.document import write_shot
from ..core.sequence import Bundle, write_bundle
from . import bring_demo_files, demo_shots, opening
from .chips import make_chips

if sys.argv[1] == "chips":
    print(f"{make_chips()} chips were made")
else:
    folder = Path(sys.argv[1])
    folder.mkdir(exist_ok=True)
    bring_demo_files(folder / "library")
    for name, shot in demo_shots().items():
        (folder / f"{name}.json").write_text(write_shot(shot), encoding="utf-8")
    shots = demo_shots()
    sequence = opening({name: name for name in shots})
    bundle = Bundle(sequence, {name: shots[name] for name in sequence.shots})
    (folder / "opening.json").write_text(write_bundle(bundle), encoding="utf-8")
