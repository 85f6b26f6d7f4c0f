"""Which writer a frame format has."""

from __future__ import annotations

from ..reel import Reel, ShotReel
from .catalogue import DeliveryFormat, FormatError
from .parts import LightsWriter, PassesWriter
from .stills import FrameWriter, plain_writer


def frame_writer(written: DeliveryFormat, reel: Reel) -> FrameWriter:
    """How frames of a reel are written; FormatError where the format needs what the reel does not have."""
    if not written.traces:
        return plain_writer(written)
    if not isinstance(reel, ShotReel):
        raise FormatError(f"{written.label} can only be written of a single shot; order the shots one by one")
    return PassesWriter(reel.shot) if written.holds == "passes" else LightsWriter(reel.order.quality)
