"""Write what the demo ships with: its shots as files, chips of finishes, or posters of the shots."""

import argparse
from pathlib import Path

from ..core.document import write_shot
from ..core.sequence import Bundle, write_bundle
from . import bring_demo_files, demo_shots, opening
from .chips import make_chips
from .posters import make_posters


def write_examples(folder: Path) -> None:
    """Write the demo's shots, its sequence, and the files they use."""
    folder.mkdir(exist_ok=True)
    bring_demo_files(folder / "library")
    shots = demo_shots()
    for name, shot in shots.items():
        (folder / f"{name}.json").write_text(write_shot(shot), encoding="utf-8")
    sequence = opening({name: name for name in shots})
    bundle = Bundle(sequence, {name: shots[name] for name in sequence.shots})
    (folder / "opening.json").write_text(write_bundle(bundle), encoding="utf-8")


parser = argparse.ArgumentParser(prog="python -m dreizack.demo", description=__doc__)
parser.add_argument(
    "what",
    choices=["examples", "chips", "posters"],
    help="shots and sequence, chips of finishes, or posters of the shots",
)
match parser.parse_args().what:
    case "chips":
        print(f"{make_chips()} chips were made")
    case "posters":
        print(f"{make_posters()} posters were made")
    case _:
        write_examples(Path("examples"))
