"""The binary part of a GLB: arrays one after the other, and what says where each lies (glTF 2.0, 3.6)."""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np
from numpy.typing import NDArray

FLOAT, UINT = 5126, 5125
VERTICES, INDICES = 34962, 34963
TYPES = {1: "SCALAR", 2: "VEC2", 3: "VEC3", 4: "VEC4"}
MAGIC, VERSION, JSON, BIN = 0x46546C67, 2, 0x4E4F534A, 0x004E4942


class Buffers:
    """Collects arrays; arrays alike are there once."""

    def __init__(self) -> None:
        self.views: list[dict[str, Any]] = []
        self.accessors: list[dict[str, Any]] = []
        self._parts: list[bytes] = []
        self._size = 0
        self._known: dict[bytes, int] = {}

    def add(self, values: NDArray[Any], target: int | None = None, bounds: bool = False) -> int:
        """The number of an accessor for values (n,) or (n, k), float32 or uint32; ``bounds`` tells their
        least and greatest, as positions and times must."""
        component = UINT if target == INDICES else FLOAT
        plain = np.ascontiguousarray(values, np.uint32 if component == UINT else np.float32)
        flat = plain.reshape(len(plain), -1)
        data = plain.tobytes()
        key = data + bytes([flat.shape[1], int(bounds), (target or 0) % 251])
        if key in self._known:
            return self._known[key]
        view: dict[str, Any] = {"buffer": 0, "byteOffset": self._size, "byteLength": len(data)}
        if target is not None:
            view["target"] = target
        accessor: dict[str, Any] = {
            "bufferView": len(self.views),
            "componentType": component,
            "count": len(plain),
            "type": TYPES[flat.shape[1]],
        }
        if bounds:
            accessor |= {"min": flat.min(axis=0).tolist(), "max": flat.max(axis=0).tolist()}
        self.views.append(view)
        self.accessors.append(accessor)
        # All our components are four bytes, so that everything stays aligned.
        self._parts.append(data)
        self._size += len(data)
        self._known[key] = len(self.accessors) - 1
        return self._known[key]

    def packed(self, tree: dict[str, Any]) -> bytes:
        """The whole file (glTF 2.0, 4.4: header, JSON padded with spaces, binary)."""
        binary = b"".join(self._parts)
        whole = {
            **tree,
            "buffers": [{"byteLength": len(binary)}],
            "bufferViews": self.views,
            "accessors": self.accessors,
        }
        text = json.dumps(whole, separators=(",", ":"), allow_nan=False).encode()
        text += b" " * (-len(text) % 4)
        head = struct.pack("<III", MAGIC, VERSION, 12 + 8 + len(text) + 8 + len(binary))
        return (
            head + struct.pack("<II", len(text), JSON) + text + struct.pack("<II", len(binary), BIN) + binary
        )
