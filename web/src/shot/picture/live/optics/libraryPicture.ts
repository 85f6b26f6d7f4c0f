import * as THREE from "three";

/** A picture of the library as codes, by its name, as soon as it is here. */
export class LibraryPicture {
  private name = "";
  private loaded: THREE.Texture | null = null;

  constructor(private readonly redraw: () => void) {}

  /** Null where there is none, or none yet. */
  get texture(): THREE.Texture | null {
    return this.loaded;
  }

  /** The picture of this name; none where it is empty. */
  by(name: string): void {
    if (name === this.name) return;
    this.name = name;
    this.dispose();
    if (!name) return;
    const texture = new THREE.TextureLoader().load(`/api/library/pictures/${name}`, () => {
      if (this.name !== name) texture.dispose();
      else {
        this.loaded = texture;
        this.redraw();
      }
    });
  }

  dispose(): void {
    this.loaded?.dispose();
    this.loaded = null;
  }
}
