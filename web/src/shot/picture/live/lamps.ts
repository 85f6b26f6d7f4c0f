import * as THREE from "three";
import { RectAreaLightUniformsLib } from "three/addons/lights/RectAreaLightUniformsLib.js";
import type { LightKind, Scene } from "../../document/scene";

/**
 * The lights of a shot as WebGL has them: discs as squares of the same area, ambient light on what is
 * matte.
 */
export class Lamps {
  private readonly lamps = new Map<string, { kind: LightKind; lamp: THREE.Light }>();

  constructor(private readonly world: THREE.Scene) {
    RectAreaLightUniformsLib.init();
  }

  place(scene: Scene, frame: number): void {
    const before = [...this.lamps.keys()].join();
    for (const [name, { kind, lamp }] of this.lamps) {
      if (scene.facts.lights[name] === kind) continue;
      this.world.remove(lamp);
      if (lamp instanceof THREE.SpotLight || lamp instanceof THREE.DirectionalLight)
        this.world.remove(lamp.target);
      lamp.dispose();
      this.lamps.delete(name);
    }
    for (const [name, kind] of Object.entries(scene.facts.lights)) {
      let made = this.lamps.get(name);
      if (!made) {
        made = { kind, lamp: lampOf(kind) };
        this.lamps.set(name, made);
        this.world.add(made.lamp);
        if (made.lamp instanceof THREE.SpotLight || made.lamp instanceof THREE.DirectionalLight)
          this.world.add(made.lamp.target);
      }
      light(made.lamp, kind, scene, `light/${name}`, frame);
    }
    // In the order of the shot, by which shadows know them.
    const order = Object.keys(scene.facts.lights);
    if (order.join() === before) return;
    const sorted = order.map((name) => [name, this.lamps.get(name)!] as const);
    this.lamps.clear();
    for (const [name, one] of sorted) {
      this.lamps.set(name, one);
      this.world.add(one.lamp);
    }
  }
}

function lampOf(kind: LightKind): THREE.Light {
  if (kind === "spot") return new THREE.SpotLight();
  if (kind === "point") return new THREE.PointLight();
  if (kind === "sun") return new THREE.DirectionalLight();
  if (kind === "ambient") return new THREE.AmbientLight();
  return new THREE.RectAreaLight();
}

function light(lamp: THREE.Light, kind: LightKind, scene: Scene, at: string, frame: number): void {
  const [width, height] = scene.pair(`${at}/size`, frame);
  const radiance = scene.triple(`${at}/radiance`, frame);
  const most = scene.at(`${at}/there`, frame)[0]
    ? Math.max(radiance[0], radiance[1], radiance[2], 1e-9)
    : 1e-9;
  lamp.color.setRGB(radiance[0] / most, radiance[1] / most, radiance[2] / most, THREE.LinearSRGBColorSpace);
  const position = scene.triple(`${at}/position`, frame);
  const aim = scene.triple(`${at}/aim`, frame);
  lamp.position.set(...position);
  if (lamp instanceof THREE.RectAreaLight) {
    const round = kind === "disc" ? Math.sqrt(Math.PI) / 2 : 1;
    lamp.width = width * round;
    lamp.height = height * round;
    lamp.intensity = most;
    lamp.lookAt(...aim);
  } else if (lamp instanceof THREE.SpotLight) {
    const [outer, inner] = scene.pair(`${at}/cone`, frame);
    lamp.angle = Math.acos(outer);
    lamp.penumbra = 1 - Math.acos(Math.min(1, inner)) / lamp.angle;
    lamp.intensity = (most * Math.PI * width * width) / 4;
    lamp.target.position.set(...aim);
    lamp.target.updateMatrixWorld();
  } else if (lamp instanceof THREE.PointLight) lamp.intensity = (most * Math.PI * width * width) / 4;
  else if (lamp instanceof THREE.DirectionalLight) {
    lamp.intensity = most * Math.PI * Math.sin((width * Math.PI) / 360) ** 2;
    lamp.target.position.set(...aim);
    lamp.target.updateMatrixWorld();
  } else lamp.intensity = most * Math.PI;
}
