"""All ready-made movements, in the order they are offered."""

from __future__ import annotations

from .applying import Motion
from .camera import CAMERA
from .letters import LETTERS
from .lights import LIGHTS
from .reveals import REVEALS
from .whole import WHOLE
from .words import WORDS

_ALL = (*LETTERS, *WORDS, *WHOLE, *REVEALS, *CAMERA, *LIGHTS)
MOTIONS: dict[str, Motion] = {motion.name: motion for motion in _ALL}
