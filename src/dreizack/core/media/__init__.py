"""Reading and writing footage and stills; the one loop every delivery runs through."""

from .comparing import NoPicture, delivered_picture, difference
from .deliver import Progress, deliver, deliver_reel
from .failing import FilesLost, FramesFailed
from .formats import FORMATS, DeliveryFormat, FormatError, chosen_format, named_format
from .formats.movies import MovieWriter, probe
from .naming import RULE, check_rule, facts_of, ruled_name
from .order import Order, OrderError, parse_frames, parse_size
from .reel import Reel, ShotReel

__all__ = [
    "FORMATS",
    "RULE",
    "DeliveryFormat",
    "FilesLost",
    "FormatError",
    "FramesFailed",
    "MovieWriter",
    "NoPicture",
    "Order",
    "OrderError",
    "Progress",
    "Reel",
    "ShotReel",
    "check_rule",
    "chosen_format",
    "deliver",
    "deliver_reel",
    "delivered_picture",
    "difference",
    "facts_of",
    "named_format",
    "parse_frames",
    "parse_size",
    "probe",
    "ruled_name",
]
