"""The first camera of a USD layer over time, in the sandbox."""

from __future__ import annotations

import json
import tempfile

import numpy as np
from pxr import Gf, Sdf, Tf, Usd, UsdGeom

from ..sandbox import Unreadable

# Frames that are read at most.
MOST = 20_000


# How layers begin, and what their files are called: the reader goes by the name.
KINDS = {b"PXR-USDC": ".usdc", b"#usda": ".usda"}


def read_camera(data: bytes) -> bytes:
    """Its frames as JSON: ``rate``, and by frame ``matrix`` (frames, 4, 4) in metres with y up, columns as we
    have them, and vertical ``angle`` of view in degrees (frames,)."""
    kind = next((name for begin, name in KINDS.items() if data.startswith(begin)), None)
    if kind is None:
        raise Unreadable("this is no USD layer (.usdc or .usda)")
    with tempfile.NamedTemporaryFile(suffix=kind) as file:
        file.write(data)
        file.flush()
        try:
            layer = Sdf.Layer.OpenAsAnonymous(file.name)
        except Tf.ErrorException:
            layer = None
        if layer is None:
            raise Unreadable("this USD layer is damaged; save it anew")
        return _camera(layer)


def _camera(layer: Sdf.Layer) -> bytes:
    if any(layer.GetCompositionAssetDependencies()):
        raise Unreadable("this layer is made of other files, which are not read; save it as one flat layer")
    stage = Usd.Stage.Open(layer)
    camera = next((UsdGeom.Camera(prim) for prim in stage.Traverse() if prim.IsA(UsdGeom.Camera)), None)
    if camera is None:
        raise Unreadable("there is no camera in this layer")
    first, last = int(np.floor(stage.GetStartTimeCode())), int(np.ceil(stage.GetEndTimeCode()))
    if not 0 <= last - first < MOST:
        raise Unreadable(f"this layer has more than {MOST} frames; cut it to the part that is needed")
    metres = UsdGeom.GetStageMetersPerUnit(stage)
    upright = np.eye(4)
    if UsdGeom.GetStageUpAxis(stage) == UsdGeom.Tokens.z:
        upright[:3, :3] = [[1, 0, 0], [0, 0, 1], [0, -1, 0]]
    matrices, angles = [], []
    for frame in range(first, last + 1):
        made: Gf.Camera = camera.GetCamera(frame)
        matrix = np.array(made.transform).T
        matrix[:3, 3] *= metres
        matrices.append((upright @ matrix).tolist())
        angles.append(made.GetFieldOfView(Gf.Camera.FOVVertical))
    rate = stage.GetTimeCodesPerSecond()
    return json.dumps({"rate": rate, "matrix": matrices, "angle": angles}).encode()
