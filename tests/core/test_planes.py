"""Maps number by number do the same as matrices."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.affine import about, composed, linear_map, linear_of, moved_about, planes_of


@given(
    st.integers(0, 10_000), st.sets(st.sampled_from(["turn", "scale", "stretch", "lean", "depth", "move"]))
)
def test_planes_do_what_matrices_do(seed: int, does: set[str]) -> None:
    rng = np.random.default_rng(seed)
    frames, count = 5, 4

    def drawn(name: str, plain: float, spread: float) -> np.ndarray:
        if name not in does:
            return np.full((1, count), plain)
        shape = (frames, count) if rng.random() < 0.5 else (1, count)
        return plain + rng.uniform(-spread, spread, shape)

    turn = [drawn("turn", 0.0, 200.0) for _ in range(3)]
    scale, stretch, depth = (drawn(name, 1.0, 0.8) for name in ("scale", "stretch", "depth"))
    lean, move = drawn("lean", 0.0, 60.0), [drawn("move", 0.0, 3.0) for _ in range(3)]
    hinge = rng.normal(size=(count, 3))
    before = np.broadcast_to(np.eye(4), (frames, count, 4, 4)).copy()
    before[..., :3, :] = rng.normal(size=(frames, count, 3, 4))

    def whole(values: np.ndarray) -> np.ndarray:
        return np.broadcast_to(values, (frames, count))

    linear = linear_map(
        np.stack([whole(one) for one in turn], axis=-1), whole(scale), whole(stretch), whole(lean)
    )
    linear = (
        linear
        * np.stack([np.ones((frames, count)), np.ones((frames, count)), whole(depth)], axis=-1)[..., None, :]
    )
    moved = np.stack([whole(one) for one in move], axis=-1)
    wanted = composed(before, about(np.broadcast_to(hinge, (frames, count, 3)), linear, moved))
    found = moved_about(
        planes_of(before),
        linear_of(turn, scale, stretch, lean, depth),
        [hinge[:, k] for k in range(3)],
        list(move),
    )
    np.testing.assert_allclose(np.moveaxis(found, (0, 1), (-2, -1)), wanted[..., :3, :], atol=1e-9)
