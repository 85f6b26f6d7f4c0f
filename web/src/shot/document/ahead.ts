import { useView } from "../view";
import { bodyOf, fetchBodies, MOST_BODIES, type Scene } from "./scene";

/** Frames whose bodies are asked for together, and how far ahead of the present one they are wanted. */
const TOGETHER = 8;
const AHEAD = 250;
const REST = 250;

const rest = (signal: AbortSignal): Promise<void> =>
  new Promise((done) => {
    const timer = setTimeout(done, REST);
    signal.addEventListener("abort", () => (clearTimeout(timer), done()), { once: true });
  });

/** Names of all bodies of a frame that are not here yet. */
function lackingAt(scene: Scene, frame: number): string[] {
  return Object.keys(scene.facts.titles).flatMap((title) =>
    scene
      .letters(title, frame)
      .map((letter) => letter.body)
      .filter((name) => !bodyOf(name)),
  );
}

/** The frames from one on, of those that a scene has, in the order in which they are played. */
export function framesFrom(frame: number, first: number, count: number, most: number): number[] {
  const begin = Math.max(0, Math.min(count - 1, frame - first));
  return Array.from({ length: Math.min(most, count) }, (_, k) => first + ((begin + k) % count));
}

/**
 * Of things whose form moves, fetch bodies before the playhead comes to them, nearest first, until all are
 * here, or as many as can be held.
 */
export async function fetchAhead(
  scene: Scene,
  signal: AbortSignal,
  present = () => useView.getState().frame,
): Promise<void> {
  const forms = Object.values(scene.facts.titles);
  if (forms.every((title) => title.forms.length < 2)) return;
  const letters = forms.reduce((sum, title) => sum + (title.forms[0]?.bodies.length ?? 0), 0);
  const most = Math.min(AHEAD, Math.max(TOGETHER, Math.floor(MOST_BODIES / 2 / Math.max(1, letters))));
  while (!signal.aborted) {
    const wanted = framesFrom(Math.round(present()), scene.facts.first, scene.facts.count, most);
    const begin = wanted.findIndex((at) => lackingAt(scene, at).length > 0);
    if (begin < 0) await rest(signal);
    else
      await fetchBodies(
        wanted.slice(begin, begin + TOGETHER).flatMap((at) => lackingAt(scene, at)),
        signal,
      );
  }
}
