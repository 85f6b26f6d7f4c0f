"""Files of a library that come from elsewhere: read once in a sandbox before anything here trusts them."""

from __future__ import annotations

import re
from pathlib import Path

from ..lettering import bring_file
from ..library import adopt
from ..sandbox import FileRefused, sandboxed

# Endings of what a library holds, with how long (seconds) and in how much memory (megabytes) each is read.
ENDINGS: dict[str, tuple[int, int]] = {
    "png": (20, 1500),
    "panorama": (20, 1500),
    "clip": (300, 2500),
    "mesh": (20, 2500),
    "solve": (30, 2500),
    "track": (20, 1500),
    "wav": (20, 1500),
    "cube": (20, 1500),
    "font": (20, 1500),
}
NAME = re.compile(r"([a-z0-9][a-z0-9-]{0,79})\.([a-z0-9]{1,8})")
# Bytes of one file.
MOST = 8_000_000_000


def take_file(source: Path, name: str, folder: Path) -> str:
    """Put a file that lies in ``folder`` on that shelf, once it was read in a sandbox as what its name says
    it is; the name it has there.

    FileRefused where it is none of the kinds a library holds, or cannot be read.
    """
    found = NAME.fullmatch(name)
    ending = found[2] if found else ""
    if found is None or ending not in ENDINGS:
        raise FileRefused(f"'{name[:60]}' is nothing that a library holds")
    if source.stat().st_size > MOST:
        raise FileRefused(f"'{name[:60]}' is larger than a file of a library may be")
    seconds, megabytes = ENDINGS[ending]
    try:
        if ending == "font":
            (made, *_) = bring_file(source.read_bytes(), folder)
            return f"{made.name}.font"
        sandboxed(
            "dreizack.core.readers.library_file:looked_at",
            source,
            what=f"'{name[:60]}'",
            seconds=seconds,
            megabytes=megabytes,
            kind=ending,
        )
    except FileRefused as why:
        raise FileRefused(f"'{name[:60]}': {why}") from None
    # What it was called before its own content named it.
    stem = re.sub(r"-?[0-9a-f]{20}$", "", found[1])
    return adopt(folder, source, ending, stem)
