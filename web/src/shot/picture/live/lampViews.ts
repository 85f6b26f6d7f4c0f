import * as THREE from "three";

/** How wide a light may look from within what it lights, in degrees. */
const WIDEST = 120;

/** What a light sees of what casts shadows. */
interface LampView {
  camera: THREE.Camera;
  /**
   * Nearest and furthest, half the size of the light over what it sees at one metre, and 1, or -1 where
   * rays are parallel.
   */
  lamp: THREE.Vector4;
  /** How wide the picture is at one metre. */
  texel: number;
}

/** Of a lamp at a place. */
export function lampView(
  position: THREE.Vector3,
  aim: THREE.Vector3,
  all: THREE.Sphere,
  size: number,
): LampView {
  const far = position.distanceTo(all.center);
  const within = far < all.radius * 1.15;
  const angle = within
    ? WIDEST
    : Math.min(WIDEST, 2 * THREE.MathUtils.radToDeg(Math.asin(Math.min(1, all.radius / far))));
  const near = Math.max(0.03, far - all.radius * 1.02);
  const camera = new THREE.PerspectiveCamera(angle, 1, near, far + all.radius * 1.02);
  look(camera, position, within ? aim : all.center);
  const wide = 2 * Math.tan(THREE.MathUtils.degToRad(angle / 2));
  return { camera, lamp: new THREE.Vector4(near, camera.far, size / 2 / wide, 1), texel: wide };
}

/** Of a sun, whose rays are parallel. */
export function sunView(
  position: THREE.Vector3,
  aim: THREE.Vector3,
  all: THREE.Sphere,
  degrees: number,
): LampView {
  const { radius } = all;
  const camera = new THREE.OrthographicCamera(-radius, radius, radius, -radius, 0.01, radius * 2.1);
  const towards = position.clone().sub(aim).normalize();
  look(camera, all.center.clone().addScaledVector(towards, radius * 1.05), all.center);
  return {
    camera,
    lamp: new THREE.Vector4(
      0.01,
      camera.far,
      Math.tan(THREE.MathUtils.degToRad(degrees / 2)) / (2 * radius),
      -1,
    ),
    texel: 2 * radius,
  };
}

function look(camera: THREE.Camera, from: THREE.Vector3, at: THREE.Vector3): void {
  camera.position.copy(from);
  const way = at.clone().sub(from).normalize();
  camera.up.set(0, Math.abs(way.y) > 0.999 ? 0 : 1, Math.abs(way.y) > 0.999 ? 1 : 0);
  camera.lookAt(at);
  camera.updateMatrixWorld();
  (camera as THREE.PerspectiveCamera).updateProjectionMatrix();
}
