"""Reading and writing footage and stills; the one loop every delivery runs through."""

from .deliver import Progress, deliver, deliver_reel
from .formats import FORMATS, DeliveryFormat, FormatError, chosen_format, named_format
from .formats.movies import MovieWriter, probe
from .order import Order, OrderError, parse_frames, parse_size
from .reel import Reel, ShotReel

__all__ = [
    "FORMATS",
    "DeliveryFormat",
    "FormatError",
    "MovieWriter",
    "Order",
    "OrderError",
    "Progress",
    "Reel",
    "ShotReel",
    "chosen_format",
    "deliver",
    "deliver_reel",
    "named_format",
    "parse_frames",
    "parse_size",
    "probe",
]
