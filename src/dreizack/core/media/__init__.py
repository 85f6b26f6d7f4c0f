"""Reading and writing footage and stills; the one loop every delivery runs through."""

from .deliver import Progress, deliver
from .order import Order, OrderError, parse_frames, parse_size
from .stills import still_writer
from .video import MovieWriter, probe

__all__ = [
    "MovieWriter",
    "Order",
    "OrderError",
    "Progress",
    "deliver",
    "parse_frames",
    "parse_size",
    "probe",
    "still_writer",
]
