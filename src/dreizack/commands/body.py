"""``dreizack body``: words to a body in a file, without the server."""

from __future__ import annotations

import sys
from argparse import Namespace
from pathlib import Path

from ..core.document import Finish
from ..core.exchange import BODY_FORMATS, write_body
from ..core.form import PROFILES
from ..core.lettering import typefaces
from ..core.media.stills import whole_file
from ..core.scene import Form


def body(wish: Namespace) -> int:
    """Exit status 0 when the file is complete, 1 with a sentence on standard error otherwise."""
    target = Path(wish.out)
    kind = target.suffix.lower().lstrip(".")
    names = [face.name for face in typefaces()]
    if kind not in BODY_FORMATS:
        return _refuse(f"a body is written as {', '.join('.' + k for k in BODY_FORMATS)}; '{target.name}' is none of them")
    if wish.font not in names:
        return _refuse(f"'{wish.font}' is no typeface; choose {', '.join(names)}")
    if wish.profile not in PROFILES:
        return _refuse(f"'{wish.profile}' is no profile; choose {', '.join(PROFILES)}")
    for name in ("size", "depth", "reach", "rise"):
        if not 0 <= getattr(wish, name) <= 50 or (name in ("size", "depth") and getattr(wish, name) == 0):
            return _refuse(f"--{name} is a length in metres, above 0 and at most 50")
    if not 0 < len(wish.text) <= 600:
        return _refuse("the text has 1 to 600 characters")
    edge = (wish.profile, wish.reach, wish.rise)
    form = Form(wish.text, wish.font, wish.size, 0.0, 1.45, "centre", wish.depth, edge, edge)
    try:
        data = write_body(form, Finish(), kind)
        whole_file(target, lambda path: _write(path, data))
    except ValueError as why:
        return _refuse(str(why))
    except OSError as why:
        return _refuse(f"{target}: {why.strerror or why}")
    print(f"{target}: {len(data)} bytes")
    return 0


def _write(path: Path, data: bytes) -> None:
    path.write_bytes(data)


def _refuse(sentence: str) -> int:
    print(f"dreizack: {sentence}.", file=sys.stderr)
    return 1
