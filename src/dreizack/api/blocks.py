"""Arrays for the browser in one piece.

A block is: the header's length (uint32, little endian), the header (JSON, padded with spaces to a
multiple of four), then the arrays end to end. The header's ``arrays`` gives for each name its
``dtype`` (f4 or u4), ``shape`` and ``offset`` in bytes from the start of the arrays.
"""

from __future__ import annotations

import json
import struct
from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

# Media type of a block.
BLOCK = "application/octet-stream"


def pack(facts: dict[str, Any], arrays: Mapping[str, NDArray[Any]]) -> bytes:
    """Header and arrays as bytes; floats become float32, integers uint32."""
    places, pieces, offset = {}, [], 0
    for name, array in arrays.items():
        kind = "f4" if np.issubdtype(array.dtype, np.floating) else "u4"
        data = np.ascontiguousarray(array, dtype="<" + kind).tobytes()
        places[name] = {"dtype": kind, "shape": list(array.shape), "offset": offset}
        pieces.append(data)
        offset += len(data)
    header = json.dumps({**facts, "arrays": places}).encode()
    header += b" " * (-len(header) % 4)
    return struct.pack("<I", len(header)) + header + b"".join(pieces)
