import * as THREE from "three";
import { filteredRoughness } from "./roughness";
import { isFloor, type LightKind, type Scene } from "../../document/scene";
import { MIRROR, MIRROR_PARS, mirrorUniforms, type MirrorUniforms } from "./mirror";
import { NEAR_LIT, NEAR_MIRRORED, NEAR_PARS, nearUniforms } from "./nearReflections";
import { FILTERS, layOver } from "./blends";
import { lampView, sunView } from "./lampViews";
import { fadeOut, fadeUniforms, setFade, type FadeUniforms } from "./floorFade";
import { revealUniforms, setReveal, uncover, type RevealUniforms } from "./reveal";
import {
  caughtLights,
  CAUGHT,
  MOST,
  ON_PLATE,
  rippledShade,
  SHADE,
  shadedLights,
  SIDE,
} from "./shadowShader";

const ORDER: LightKind[][] = [["panel", "disc"], ["spot"], ["point"], ["sun"]];

interface Own extends MirrorUniforms, RevealUniforms, FadeUniforms {
  plateTurn: { value: THREE.Vector4 };
  plateShift: { value: THREE.Vector2 };
  shadeReach: { value: number[] };
  shadeTakes: { value: number };
}

const fills = ({ plateTurn: { value } }: Own) => value.length() > 0;

interface Casting {
  group: THREE.Group;
  depth: THREE.MeshBasicMaterial;
  reveal: RevealUniforms | null;
  /** The letters it was made from. */
  from: unknown;
  there: boolean;
  catches: boolean;
}

/** From where lights see what casts, and where in the picture of all of them. */
interface SeenByLights {
  views: THREE.Matrix4[];
  uniforms: {
    shadeMatrix: { value: THREE.Matrix4[] };
    shadeInverse: { value: THREE.Matrix4[] };
    shadeTile: { value: THREE.Vector4[] };
    shadeLamp: { value: THREE.Vector4[] };
  };
}

function seenByLights(): SeenByLights {
  const all = <T>(make: () => T) => ({ value: Array.from({ length: MOST }, make) });
  return {
    views: [],
    uniforms: {
      shadeMatrix: all(() => new THREE.Matrix4()),
      shadeInverse: all(() => new THREE.Matrix4()),
      shadeTile: all(() => new THREE.Vector4()),
      shadeLamp: all(() => new THREE.Vector4()),
    },
  };
}

function alike(one: SeenByLights, as: SeenByLights): void {
  one.views.splice(0, one.views.length, ...as.views);
  for (let k = 0; k < MOST; k++) {
    one.uniforms.shadeTile.value[k]!.copy(as.uniforms.shadeTile.value[k]!);
    one.uniforms.shadeLamp.value[k]!.copy(as.uniforms.shadeLamp.value[k]!);
  }
}

/** What may cast: a title's letters, where they stand. */
export interface Caster {
  group: THREE.Group;
  shown: unknown;
  /** Whether it is there at this frame, seen or not. */
  there: boolean;
}

export class Shades {
  private readonly stage = new THREE.Scene();
  private readonly casting = new Map<string, Casting>();
  private readonly depth = new THREE.MeshBasicMaterial({ colorWrite: false, side: THREE.DoubleSide });
  private readonly target = new THREE.WebGLRenderTarget(SIDE, SIDE, {
    depthTexture: new THREE.DepthTexture(SIDE, SIDE, THREE.UnsignedIntType),
    stencilBuffer: false,
  });
  private readonly own = new WeakMap<THREE.Material, Own>();
  private readonly text = shadedLights();
  private readonly caught = caughtLights();
  private readonly filtered = filteredRoughness();
  private readonly seen = seenByLights();
  /** The same for catchers, where lights may stand at another height. */
  private readonly caughtSeen = seenByLights();
  private readonly shared = {
    shadeMap: { value: this.target.depthTexture },
    shadeTone: { value: Array.from({ length: MOST }, () => new THREE.Vector4()) },
    shadePlace: { value: Array.from({ length: MOST }, () => new THREE.Vector4()) },
    shadeTaps: { value: 8 },
    shadeSpin: { value: 0 },
    plateSize: { value: new THREE.Vector2(1, 1) },
    caughtTone: { value: new THREE.Vector3(1, 1, 1) },
    shadeFade: { value: 0 },
    shadeRipple: { value: new THREE.Vector2(0, 1) },
  };
  /** What letters mirror of what is near, and what is lit by it. */
  readonly near = nearUniforms();
  private drawn = "";

  constructor(private readonly renderer: THREE.WebGLRenderer) {
    this.stage.matrixAutoUpdate = false;
  }

  dispose(): void {
    this.target.dispose();
    this.depth.dispose();
  }

  /** Let a thing's material take shadows, of the lights that reach it. */
  dress(material: THREE.Material, scene: Scene, thing: string): void {
    let own = this.own.get(material);
    if (!own) {
      own = {
        plateTurn: { value: new THREE.Vector4(0, 0, 0, 0) },
        plateShift: { value: new THREE.Vector2() },
        shadeReach: { value: Array<number>(MOST).fill(1) },
        shadeTakes: { value: 1 },
        ...mirrorUniforms(),
        ...revealUniforms(),
        ...fadeUniforms(),
      };
      this.own.set(material, own);
      const kept = own;
      // Only floors mirror what stands on them.
      const catches = scene.facts.titles[thing]!.catches;
      const mirrors = isFloor(scene, thing) && !catches;
      const { reveals, blend, fades } = scene.facts.titles[thing]!;
      // Only on the plate do shadows fade, ripple, and have a length of their own.
      const uniforms = catches
        ? { ...this.shared, ...this.caughtSeen.uniforms, ...own }
        : { ...this.shared, ...this.seen.uniforms, ...this.near, ...own, shadeFade: { value: 0 } };
      const waves = catches ? scene.facts.ripples : [];
      const filters = blend === "multiply" && !catches;
      if (!catches) layOver(material, blend);
      material.onBeforeCompile = (shader) => {
        Object.assign(shader.uniforms, uniforms);
        shader.fragmentShader = shader.fragmentShader
          .replace(
            "#include <lights_physical_pars_fragment>",
            `#include <lights_physical_pars_fragment>\n${SHADE.replace("SHADE_RIPPLED", rippledShade(waves))}`,
          )
          .replace("#include <lights_fragment_begin>", catches ? this.caught : this.text);
        if (catches)
          shader.fragmentShader = shader.fragmentShader
            .replace("void main()", "uniform vec3 caughtTone;\nvoid main()")
            .replace("#include <opaque_fragment>", CAUGHT)
            .replace("#include <tonemapping_fragment>", "")
            .replace("#include <colorspace_fragment>", "")
            .replace("#include <premultiplied_alpha_fragment>", "");
        if (mirrors)
          shader.fragmentShader = shader.fragmentShader
            .replace(
              "#include <lights_physical_pars_fragment>",
              `#include <lights_physical_pars_fragment>\n${MIRROR_PARS}`,
            )
            .replace("#include <lights_fragment_maps>", MIRROR);
        if (!catches)
          shader.fragmentShader = shader.fragmentShader
            .replace(
              "#include <lights_physical_pars_fragment>",
              `#include <lights_physical_pars_fragment>\n${NEAR_PARS}`,
            )
            .replace(
              "#include <lights_physical_fragment>",
              this.text === "" ? this.filtered : "#include <lights_physical_fragment>",
            )
            .replace(
              "#include <lights_fragment_end>",
              `${NEAR_LIT}${mirrors ? "" : NEAR_MIRRORED}
#include <lights_fragment_end>`,
            );
        if (reveals) uncover(shader, kept, false);
        if (fades) fadeOut(shader);
        if (filters)
          shader.fragmentShader = shader.fragmentShader
            .replace("#include <opaque_fragment>", FILTERS)
            .replace("#include <premultiplied_alpha_fragment>", "");
        if (fills(kept))
          shader.fragmentShader = shader.fragmentShader.replace("void main()", `${ON_PLATE}\nvoid main()`);
      };
      material.customProgramCacheKey = () =>
        `shaded${fills(kept) ? " plate" : ""}${mirrors ? " mirror" : ""}${catches ? " catcher" : ""}${reveals ? " reveal" : ""}${fades ? " fade" : ""}${filters ? " filter" : ""}`;
      if (catches) {
        material.transparent = true;
        material.depthWrite = false;
        material.blending = THREE.CustomBlending;
        material.blendEquation = THREE.AddEquation;
        material.blendSrc = THREE.ZeroFactor;
        material.blendDst = THREE.SrcColorFactor;
        material.blendSrcAlpha = THREE.ZeroFactor;
        material.blendDstAlpha = THREE.OneFactor;
      }
    }
    own.shadeTakes.value = scene.facts.titles[thing]!.receives ? 1 : 0;
    lightsInOrder(scene).forEach((name, k) => {
      const reaches = scene.facts.lamps[name]!.reaches;
      if (k < MOST) own.shadeReach.value[k] = reaches === null || reaches.includes(thing) ? 1 : 0;
    });
  }

  /** What lights see, and from where, as it was last drawn. */
  maps() {
    const { shadeMatrix, shadeTile, shadeLamp } = this.seen.uniforms;
    return {
      shadeMap: this.target.depthTexture!,
      shadeMatrix: shadeMatrix.value,
      shadeTile: shadeTile.value,
      shadeLamp: shadeLamp.value,
      shadeTone: this.shared.shadeTone.value,
    };
  }

  /** Have a dressed material show what is uncovered at a frame. */
  uncover(material: THREE.Material, row: ArrayLike<number>): void {
    setReveal(material, this.own.get(material)!, row);
  }

  /** Have a dressed material of a floor go over into what is behind it. */
  fade(material: THREE.Material, metres: number, matrix: ArrayLike<number>): void {
    setFade(material, this.own.get(material)!, metres, matrix);
  }

  /**
   * Have a dressed material's picture fill the frame so: a matrix and shifts, as the core says; null: it
   * lies on the letters.
   */
  fill(material: THREE.Material, plate: ArrayLike<number> | null): void {
    const own = this.own.get(material)!;
    const before = fills(own);
    own.plateTurn.value.set(plate?.[0] ?? 0, plate?.[1] ?? 0, plate?.[2] ?? 0, plate?.[3] ?? 0);
    own.plateShift.value.set(plate?.[4] ?? 0, plate?.[5] ?? 0);
    if (before !== fills(own)) material.needsUpdate = true;
  }

  /**
   * Make shadows what they are at a frame, before this camera, in a picture of this size; `side` pixels
   * hold what all lights see.
   */
  place(
    scene: Scene,
    frame: number,
    things: Map<string, Caster>,
    camera: THREE.Camera,
    size: THREE.Vector2,
    taps: number,
    side: number,
  ): void {
    this.shared.shadeTaps.value = taps;
    this.shared.plateSize.value.copy(size);
    const [r, g, b] = scene.at("plate/tone", frame);
    this.shared.caughtTone.value.set(r!, g!, b!);
    const [fade, length, ripple, waves] = scene.at("plate/caught", frame);
    this.shared.shadeFade.value = fade!;
    this.shared.shadeRipple.value.set(ripple!, waves!);
    if (!taps) return;
    this.follow(scene, frame, things);
    const names = lightsInOrder(scene).slice(0, MOST);
    const catchers = Object.values(scene.facts.titles).filter(({ catches }) => catches);
    // Catchers shade one another in the plate already.
    const own = catchers.length > 0 && (length !== 1 || catchers.some(({ casts }) => casts));
    const grid = Math.ceil(Math.sqrt(names.length * (own ? 2 : 1))) || 1;
    const all = this.extent();
    const key = `${side} ${scene.revision} ${frame} ${[...this.casting.values()].map(({ group }) => (group.visible ? group.children.length : -1)).join()}`;
    const anew = this.drawn !== key;
    this.drawn = key;
    if (anew) this.begin(side);
    const tile = side / SIDE / grid;
    const draw = (set: SeenByLights, k: number, number: number, lower: number) => {
      const at = `light/${names[k]!}`;
      const stands = (from: THREE.Vector3) => (from.y > 0 ? from.setY(from.y / lower) : from);
      const position = new THREE.Vector3(...scene.triple(`${at}/position`, frame));
      const aim = new THREE.Vector3(...scene.triple(`${at}/aim`, frame));
      const [width, height] = scene.pair(`${at}/size`, frame);
      const view =
        scene.facts.lights[names[k]!] === "sun"
          ? sunView(stands(position.sub(aim)).add(aim), aim, all!, width)
          : lampView(stands(position), aim, all!, Math.sqrt(width * height));
      set.uniforms.shadeLamp.value[k]!.copy(view.lamp);
      const [x, y] = [(number % grid) * tile, Math.floor(number / grid) * tile];
      set.uniforms.shadeTile.value[k]!.set(x, y, tile, view.texel / (SIDE * tile));
      if (anew) {
        this.target.viewport.set(x * SIDE, y * SIDE, tile * SIDE, tile * SIDE);
        this.renderer.setRenderTarget(this.target);
        const hidden = [...this.casting.values()].filter((one) => set !== this.seen && one.catches);
        for (const { group } of hidden) group.visible = false;
        this.renderer.render(this.stage, view.camera);
        for (const { group, there } of hidden) group.visible = there;
      }
      set.views[k] = new THREE.Matrix4().multiplyMatrices(
        view.camera.projectionMatrix,
        view.camera.matrixWorldInverse,
      );
    };
    for (let k = 0; k < MOST; k++) {
      const name = names[k];
      this.seen.uniforms.shadeLamp.value[k]!.w = this.caughtSeen.uniforms.shadeLamp.value[k]!.w = 0;
      if (name === undefined) continue;
      const place = new THREE.Vector3(...scene.triple(`light/${name}/position`, frame));
      place.applyMatrix4(camera.matrixWorldInverse);
      this.shared.shadePlace.value[k]!.set(place.x, place.y, place.z, scene.facts.lamps[name]!.falloff);
      const [r, g, b, density] = scene.at(`light/${name}/shadow`, frame);
      this.shared.shadeTone.value[k]!.set(r!, g!, b!, density!);
      if (!all || density! <= 0) continue;
      draw(this.seen, k, k, 1);
      if (own) draw(this.caughtSeen, k, names.length + k, length!);
    }
    if (anew) {
      this.renderer.autoClear = true;
      this.renderer.setRenderTarget(null);
    }
    if (!own) alike(this.caughtSeen, this.seen);
    for (const { views, uniforms } of [this.seen, this.caughtSeen])
      names.forEach((_, k) => {
        if (!views[k]) return;
        const matrix = uniforms.shadeMatrix.value[k]!.multiplyMatrices(views[k], camera.matrixWorld);
        uniforms.shadeInverse.value[k]!.copy(matrix).invert();
      });
  }

  /** What a dressed material of a floor mirrors. */
  mirrorOf(material: THREE.Material): MirrorUniforms | undefined {
    return this.own.get(material);
  }

  /** Draw something else without shadows, which go by the camera. */
  without(draw: () => void): void {
    const taps = this.shared.shadeTaps.value;
    this.shared.shadeTaps.value = 0;
    draw();
    this.shared.shadeTaps.value = taps;
  }

  /** Look at edges of shadows from other sides: `spin` is a share of a turn. */
  spin(spin: number): void {
    this.shared.shadeSpin.value = spin;
  }

  private begin(side: number): void {
    this.target.viewport.set(0, 0, side, side);
    this.target.scissor.set(0, 0, side, side);
    this.target.scissorTest = true;
    this.renderer.setRenderTarget(this.target);
    this.renderer.clear(true, true, false);
    this.renderer.autoClear = false;
  }

  /** Have the letters of what casts stand where they do. */
  private follow(scene: Scene, frame: number, things: Map<string, Caster>): void {
    for (const [name, { group }] of this.casting) {
      if (things.has(name) && scene.facts.titles[name]?.casts) continue;
      this.stage.remove(group);
      this.casting.delete(name);
    }
    for (const [name, { group, shown, there }] of things) {
      if (!scene.facts.titles[name]?.casts) continue;
      let casting = this.casting.get(name);
      const reveals = scene.facts.titles[name]!.reveals;
      if (casting && (casting.reveal !== null) !== reveals) {
        this.stage.remove(casting.group);
        casting = undefined;
      }
      if (!casting) {
        const reveal = reveals ? revealUniforms() : null;
        casting = {
          group: new THREE.Group(),
          from: null,
          reveal,
          there,
          catches: false,
          depth: reveal ? revealDepth(reveal) : this.depth,
        };
        casting.group.matrixAutoUpdate = false;
        this.casting.set(name, casting);
        this.stage.add(casting.group);
      }
      casting.reveal?.revealRow.value.set(scene.at(`title/${name}/reveal`, frame));
      if (casting.from !== shown) {
        casting.from = shown;
        casting.group.clear();
        for (const letter of group.children as THREE.Mesh[]) {
          const mesh = new THREE.Mesh(letter.geometry, casting.depth);
          mesh.matrixAutoUpdate = false;
          casting.group.add(mesh);
        }
      }
      casting.group.children.forEach((mesh, i) => mesh.matrix.copy(group.children[i]!.matrix));
      casting.group.visible = casting.there = there;
      casting.catches = scene.facts.titles[name]!.catches;
      casting.group.matrix.copy(group.matrix);
      casting.group.matrixWorldNeedsUpdate = true;
    }
    this.stage.updateMatrixWorld(true);
  }

  /** The ball around all that casts; null where nothing does. */
  private extent(): THREE.Sphere | null {
    const box = new THREE.Box3();
    for (const { group } of this.casting.values()) {
      for (const mesh of group.children as THREE.Mesh[]) {
        if (!mesh.geometry.boundingBox) mesh.geometry.computeBoundingBox();
        box.union(mesh.geometry.boundingBox!.clone().applyMatrix4(mesh.matrixWorld));
      }
    }
    return box.isEmpty() ? null : box.getBoundingSphere(new THREE.Sphere());
  }
}

/** Draws the depth of what is uncovered; one looks through openings. */
function revealDepth(uniforms: RevealUniforms): THREE.MeshBasicMaterial {
  const made = new THREE.MeshBasicMaterial({ colorWrite: false });
  made.onBeforeCompile = (shader) => uncover(shader, uniforms, true);
  made.customProgramCacheKey = () => "reveal depth";
  return made;
}

/** Lights that throw shadows, as the shader counts them. */
export function lightsInOrder(scene: Scene): string[] {
  return ORDER.flatMap((kinds) =>
    Object.entries(scene.facts.lights)
      .filter(([, kind]) => kinds.includes(kind))
      .map(([name]) => name),
  );
}
