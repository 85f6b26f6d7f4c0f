import * as THREE from "three";
import { gotBytes } from "../../api/client";
import { unpack } from "../../api/block";

/** The surroundings a studio's panels make, prefiltered for every roughness. */
export async function loadStudio(renderer: THREE.WebGLRenderer, studio: string): Promise<THREE.Texture> {
  const { arrays } = unpack(await gotBytes(`/api/surroundings/${studio}`));
  const { shape, data } = arrays.get("picture")!;
  const [rows, columns] = shape as [number, number];
  // The core looks towards -z in column 0; three's equirectangular mapping looks towards +x there,
  // upside down. Turned by a quarter and flipped, both mean the same.
  const rgba = new Float32Array(rows * columns * 4);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const from = (row * columns + column) * 3;
      const to = ((rows - 1 - row) * columns + studioColumn(column, columns)) * 4;
      rgba.set([data[from]!, data[from + 1]!, data[from + 2]!, 1], to);
    }
  }
  const picture = new THREE.DataTexture(rgba, columns, rows, THREE.RGBAFormat, THREE.FloatType);
  picture.mapping = THREE.EquirectangularReflectionMapping;
  picture.colorSpace = THREE.LinearSRGBColorSpace;
  picture.minFilter = picture.magFilter = THREE.LinearFilter;
  picture.needsUpdate = true;
  const filter = new THREE.PMREMGenerator(renderer);
  const texture = filter.fromEquirectangular(picture).texture;
  picture.dispose();
  filter.dispose();
  return texture;
}

/** Column of three's picture for a column of the core's (azimuth from -z towards +x). */
function studioColumn(column: number, columns: number): number {
  // three: u = atan2(z, x) / 2π + ½. A direction (sin a, 0, -cos a) of azimuth a has atan2(-cos a, sin a) = a - π/2.
  return (((column + columns / 4) % columns) + columns) % columns;
}
