"""The shot as data: Pydantic models, their defaults, edits and the file a shot travels in.

A shot is one JSON tree; every value in it has an address, its JSON Pointer (RFC 6901).
"""

from .edits import Edit, EditRefused, apply_edit
from .file import SCHEMA_VERSION, ShotFileError, read_shot, write_shot
from .ground import Colour, Vector
from .keys import Channel, Ease, Key
from .pointer import resolve
from .shot import Backdrop, Camera, Format, Light, Shot, Surroundings, Thing
from .title import Body, Edge, Finish, Place, Setting, Title
from .vocabulary import describe

__all__ = [
    "SCHEMA_VERSION", "Backdrop", "Body", "Camera", "Channel", "Colour", "Ease", "Edge", "Edit",
    "EditRefused", "Finish", "Format", "Key", "Light", "Place", "Setting", "Shot", "ShotFileError",
    "Surroundings", "Thing", "Title", "Vector", "apply_edit", "describe", "read_shot", "resolve",
    "write_shot",
]
