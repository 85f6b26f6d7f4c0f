import * as THREE from "three";

/** Nothing but distances, a little behind the surface: it must not hide itself. */
const DISTANCE = new THREE.MeshBasicMaterial({
  colorWrite: false,
  polygonOffset: true,
  polygonOffsetFactor: 1,
  polygonOffsetUnits: 1,
});

/** A catcher's body, drawn before everything: what stands behind it is hidden, as in the finished picture. */
export function heldOut(geometry: THREE.BufferGeometry): THREE.Mesh {
  const mesh = new THREE.Mesh(geometry, DISTANCE);
  mesh.renderOrder = -1e5;
  mesh.raycast = () => undefined;
  return mesh;
}
