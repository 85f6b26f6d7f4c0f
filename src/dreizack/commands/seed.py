"""The demo production, added once: ``python -m dreizack.commands.seed`` on the data of the environment."""

from __future__ import annotations

import os
from pathlib import Path

from ..demo import PRODUCTION, bring_demo_files, demo_shots, opening
from ..store import Store, open_store
from ..store.sequences import create_sequence
from ..store.shots import create_shot


def seed_demo(store: Store, library: Path) -> bool:
    """Add SLACK WATER to a store that has never had a production, and what it needs to the library; whether
    it was added."""
    bring_demo_files(library)
    found = store.row("production_ever")
    if found and found["ever"]:
        return False
    shots = demo_shots()
    # All of it or nothing: what is interrupted is begun again at the next start.
    with store.together() as on:
        row = store.row("production_create", on=on, name=PRODUCTION)
        assert row is not None
        made = {name: str(create_shot(store, row["id"], shot, on)) for name, shot in shots.items()}
        create_sequence(store, row["id"], opening(made), on)
    return True


if __name__ == "__main__":
    opened = open_store(os.environ["DREIZACK_DATABASE"], size=1)
    seed_demo(opened, Path(os.environ["DREIZACK_DATA"]) / "library")
    opened.close()
