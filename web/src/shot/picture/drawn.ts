/** The live view has been drawn: in this very task its pixels can be read. */
export const DRAWN = "dreizack:drawn";
/** Another revision or frame has been drawn: what lies over the picture finds its places anew. */
export const MOVED = "dreizack:moved";
const WANTED = "dreizack:draw";

export const tellDrawn = (): void => void window.dispatchEvent(new Event(DRAWN));
export const tellMoved = (): void => void window.dispatchEvent(new Event(MOVED));

/** Ask for another drawing of what is shown, so that it can be read. */
export const requestDrawing = (): void => void window.dispatchEvent(new Event(WANTED));

/** Have something draw whenever that is asked for; ends it. */
export function drawsOnRequest(draw: () => void): () => void {
  window.addEventListener(WANTED, draw);
  return () => window.removeEventListener(WANTED, draw);
}
