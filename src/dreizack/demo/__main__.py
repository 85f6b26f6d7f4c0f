"""Write the demo's shots as files: ``python -m dreizack.demo examples``."""

import sys
from pathlib import Path

from ..core.document import write_shot
from . import bring_demo_files, demo_shots

folder = Path(sys.argv[1])
folder.mkdir(exist_ok=True)
bring_demo_files(folder / "library")
for name, shot in demo_shots().items():
    (folder / f"{name}.json").write_text(write_shot(shot), encoding="utf-8")
