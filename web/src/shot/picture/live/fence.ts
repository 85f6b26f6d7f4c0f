import type * as THREE from "three";

// Milliseconds after which it is taken for done.
const PATIENCE = 5000;

/**
 * Call back when all that was asked of WebGL until now has been drawn, with how long that took, without
 * holding up the page.
 */
export function whenDrawn(
  renderer: THREE.WebGLRenderer,
  then: (milliseconds: number, now: number) => void,
): void {
  const gl = renderer.getContext() as WebGL2RenderingContext;
  const begun = performance.now();
  const fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
  if (!fence) return;
  gl.flush();
  const look = () => {
    if (gl.isContextLost()) return;
    const now = performance.now();
    if (gl.getSyncParameter(fence, gl.SYNC_STATUS) === gl.SIGNALED || now - begun > PATIENCE) {
      gl.deleteSync(fence);
      then(now - begun, now);
    } else window.setTimeout(look, 4);
  };
  window.setTimeout(look, 0);
}
