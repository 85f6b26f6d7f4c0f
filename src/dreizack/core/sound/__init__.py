"""Sound people bring: read once in a sandbox, kept as plain samples, listened to for level, bands, onsets and
beats.

How it is mixed for a run of frames is here too; what a shot says of its sounds is in the document.
"""

from .listening import Heard, heard
from .loudness import loudness
from .mixing import Placed, limited, mixed, wave_file
from .rate import RATE
from .reading import SoundFacts, sound_facts, sound_samples
from .taking import bring_sound

__all__ = [
    "RATE",
    "Heard",
    "Placed",
    "SoundFacts",
    "bring_sound",
    "heard",
    "limited",
    "loudness",
    "mixed",
    "sound_facts",
    "sound_samples",
    "wave_file",
]
