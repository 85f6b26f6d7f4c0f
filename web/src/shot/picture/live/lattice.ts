import * as THREE from "three";

/** A lattice of colours, as the core sends it, to be looked up between its steps. */
export function latticeTexture({
  shape,
  data,
}: {
  shape: number[];
  data: ArrayLike<number>;
}): THREE.Data3DTexture {
  const side = shape[0]!;
  const half = new Uint16Array(side ** 3 * 4);
  // The core counts red slowest, textures fastest.
  for (let r = 0; r < side; r++)
    for (let g = 0; g < side; g++)
      for (let b = 0; b < side; b++)
        for (let c = 0; c < 4; c++)
          half[((b * side + g) * side + r) * 4 + c] = THREE.DataUtils.toHalfFloat(
            c < 3 ? data[((r * side + g) * side + b) * 3 + c]! : 1,
          );
  const made = new THREE.Data3DTexture(half, side, side, side);
  made.format = THREE.RGBAFormat;
  made.type = THREE.HalfFloatType;
  made.minFilter = made.magFilter = THREE.LinearFilter;
  made.needsUpdate = true;
  return made;
}
