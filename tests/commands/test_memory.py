"""What runs all day keeps little."""

from __future__ import annotations

import subprocess
import sys

import numpy as np

from dreizack.core.render import QUALITIES, Stage, give_back, trace
from dreizack.core.scene import BodyStore
from tests.core.test_focus_afterwards import two_words


def test_what_watches_the_others_knows_no_renderer() -> None:
    asked = (
        "import sys, dreizack.commands.start\n"
        "print([name for name in ('mitsuba', 'cv2', 'av', 'fastapi') if name in sys.modules])"
    )
    said = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True)
    assert said.stdout.strip() == "[]"


def test_pictures_are_the_same_after_memory_was_given_back() -> None:
    stage = Stage(BodyStore())
    stage.show(two_words(False))
    before = trace(stage, 64, 36, QUALITIES["draft"]).rgba
    give_back()
    np.testing.assert_array_equal(trace(stage, 64, 36, QUALITIES["draft"]).rgba, before)
