"""The shot as data: Pydantic models, their defaults, edits and the file a shot travels in.

A shot is one JSON tree; every value in it has an address, its JSON Pointer (RFC 6901).
"""

from .adding import with_copy, with_new
from .body import Body, Deformation, Edge, Outlines, Shell, Wire
from .by_pointer import without_movers
from .camera import Camera
from .cameras import (
    camera_named,
    camera_pointer,
    cut_to,
    edited_as,
    seen_through,
    with_camera,
    without_camera,
)
from .changes import Changes, changed_at, run_of, shot_at
from .copies import Copies
from .copying import original_of, with_copies
from .cover import Cover, DrawnShape, FlatPatch
from .driven import Coupling, Drift
from .edits import Edit, EditRefused, apply_edit
from .file import ShotFileError, read_shot, write_shot
from .finish import Finish, Stop, Surface, SurfacePicture
from .floor import Floor
from .ground import Colour, Turn, Vector
from .key_edits import mirrored_keys, pasted_keys, repeated_keys, reversed_keys, stretched_keys
from .keys import Channel, Ease, Key
from .light import Light
from .looks import (
    SECTIONS,
    Look,
    LookFileError,
    changed_looks,
    look_of,
    read_look,
    refinished,
    restyled,
    with_look,
    write_look,
)
from .mark import Mark, Piece
from .marker import Marker
from .mesh import UNITS, Mesh
from .optics import LIMITED, Optics
from .pivot import Pivot
from .place import Place
from .plate import Plate
from .pointer import escaped, resolve
from .removing import without_item, without_sound, without_thing
from .reveal import Reveal
from .sets import LetterSet
from .setting import Axis, Gap, Path, Pose, Range, Setting
from .sheet import Fill, Sheet
from .shot import MAX_FRAMES, Bodied, Format, Lettered, Placed, Rate, Shot, Thing, camera_followers, hanging
from .sound import HEARD, Sound
from .sources import LostFile, lost_files, lost_sounds, replaced, used_files
from .span import Span
from .strand import Strand
from .surroundings import Backdrop, Surroundings
from .swarm import MAX_GRAINS, Swarm
from .telling import Telling
from .timing import Timing
from .title import Title
from .tones import Curves
from .versions import NewerDocument, schema_version
from .visibility import Visibility
from .vocabulary import describe, fresh

__all__ = [
    "HEARD",
    "LIMITED",
    "MAX_FRAMES",
    "MAX_GRAINS",
    "SECTIONS",
    "UNITS",
    "Axis",
    "Backdrop",
    "Bodied",
    "Body",
    "Camera",
    "Changes",
    "Channel",
    "Colour",
    "Copies",
    "Coupling",
    "Cover",
    "Curves",
    "Deformation",
    "DrawnShape",
    "Drift",
    "Ease",
    "Edge",
    "Edit",
    "EditRefused",
    "Fill",
    "Finish",
    "FlatPatch",
    "Floor",
    "Format",
    "Gap",
    "Key",
    "LetterSet",
    "Lettered",
    "Light",
    "Look",
    "LookFileError",
    "LostFile",
    "Mark",
    "Marker",
    "Mesh",
    "NewerDocument",
    "Optics",
    "Outlines",
    "Path",
    "Piece",
    "Pivot",
    "Place",
    "Placed",
    "Plate",
    "Pose",
    "Range",
    "Rate",
    "Reveal",
    "Setting",
    "Sheet",
    "Shell",
    "Shot",
    "ShotFileError",
    "Sound",
    "Span",
    "Stop",
    "Strand",
    "Surface",
    "SurfacePicture",
    "Surroundings",
    "Swarm",
    "Telling",
    "Thing",
    "Timing",
    "Title",
    "Turn",
    "Vector",
    "Visibility",
    "Wire",
    "apply_edit",
    "camera_followers",
    "camera_named",
    "camera_pointer",
    "changed_at",
    "changed_looks",
    "cut_to",
    "describe",
    "edited_as",
    "escaped",
    "fresh",
    "hanging",
    "look_of",
    "lost_files",
    "lost_sounds",
    "mirrored_keys",
    "original_of",
    "pasted_keys",
    "read_look",
    "read_shot",
    "refinished",
    "repeated_keys",
    "replaced",
    "resolve",
    "restyled",
    "reversed_keys",
    "run_of",
    "schema_version",
    "seen_through",
    "shot_at",
    "stretched_keys",
    "used_files",
    "with_camera",
    "with_copies",
    "with_copy",
    "with_look",
    "with_new",
    "without_camera",
    "without_item",
    "without_movers",
    "without_sound",
    "without_thing",
    "write_look",
    "write_shot",
]
