import type * as THREE from "three";

/** What is drawn of a thing: its letters, where they stand. */
export interface Drawn {
  group: THREE.Group;
}

/** Draw the things that are there, each in one material, over what is in the target. */
export function drawAs(
  renderer: THREE.WebGLRenderer,
  camera: THREE.Camera,
  things: Map<string, Drawn>,
  material: (name: string) => THREE.Material,
): void {
  const { autoClear } = renderer;
  renderer.autoClear = false;
  for (const [name, { group }] of things) {
    if (!group.visible) continue;
    const meshes = group.children as THREE.Mesh[];
    const worn = meshes.map((mesh) => mesh.material);
    for (const mesh of meshes) mesh.material = material(name);
    renderer.render(group, camera);
    meshes.forEach((mesh, i) => (mesh.material = worn[i]!));
  }
  renderer.autoClear = autoClear;
}
