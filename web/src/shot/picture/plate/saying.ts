import type { Picking } from "../../view";

/** How many picks are taken at once; the others end with Enter. */
export const TAKEN: Partial<Record<Picking, number>> = {
  origin: 1,
  stand: 1,
  line: 2,
  wall: 3,
  spot: 1,
  direction: 2,
  horizon: 2,
  box: 2,
  points: 2,
  crate: 4,
  edges: 8,
};
/** What is picked by the two ends of a line: a drag picks both at once. */
export const LINES: Picking[] = ["edges", "distance", "direction", "line", "horizon"];
/** Where words are put, they are seen; for all else the plate is picked in alone. */
export const WITH_WORDS: Picking[] = ["stand", "line", "far", "corners"];
/** After so many picks lengths are asked for. */
export const MEASURED: Partial<Record<Picking, number>> = { distance: 2, rectangle: 4, far: 1 };
/** What is asked for then: its name, and how it may be said. */
export const ASKED: Partial<Record<Picking, [name: string, such: string]>> = {
  distance: ["Metres between them", "metres"],
  rectangle: ["Its width and depth in metres", "2.4 × 1.2"],
  far: ["Metres away, and its share of the picture's width in per cent", "300 × 40"],
};
const RECTANGLE = ["its nearer left corner", "its nearer right one", "the one behind that", "the last one"];
const CRATE = [
  "a corner of its foot",
  "the next corner along its front",
  "the corner behind that one",
  "its top, over the first corner",
];
const WALL = ["one end of the wall's foot", "the other end of its foot", "its top, over the first end"];
const EDGES = ["one edge", "another that runs the same way"];
const SUN = ["the foot of something upright", "its tip", "the tip of its shadow"];

/** What is picked next, in words. */
export const says = (what: Picking, count: number, strokes: number): string => {
  if (what === "ground")
    return count < 3 ? `Pick a point on the ground (${count} of 3)` : "Enter takes them, or pick more";
  if (what === "patch" || what === "cover")
    return count < 3
      ? `Pick the corners of ${what === "patch" ? "something flat" : "what stands before the words"} (${count} of 3 or more)`
      : "Enter takes them, or pick more";
  if (what === "box") return "Drag a box around points on the ground";
  if (what === "points") return "Drag a box around points that are wrong";
  if (what === "horizon") return `Pick a place on the horizon (${count} of 2)`;
  if (what === "origin") return "Pick the place on the ground that is 0, 0, 0";
  if (what === "distance") return count < 2 ? `Pick a point (${count} of 2)` : "How far apart are they?";
  if (what === "direction") return `Pick a point along an edge (${count} of 2)`;
  if (what === "stand") return "Click the ground, a box or a wall where it is to stand or hang";
  if (what === "line") return `Pick ${count ? "the other" : "one"} end of the line on the ground`;
  if (what === "far")
    return count < 1
      ? "Click below the horizon, in the direction where it is to stand"
      : "How many metres away, and how wide in the picture? Such as 300 × 40";
  if (what === "spot") return "Click a spot with texture: it is followed, and becomes a point of the solve";
  if (what === "wall") return `Pick ${WALL[count % 3]}`;
  if (what === "crate") return `Pick ${CRATE[count % 4]}`;
  if (what === "rectangle")
    return count < 4
      ? `Pick the rectangle on the ground: ${RECTANGLE[count]}`
      : "How wide and how deep is it? Such as 2.4 × 1.2";
  if (what === "edges")
    return `Pick ${count % 2 ? "the other end" : "one end"} of ${count % 4 < 2 ? EDGES[0] : EDGES[1]}${
      count < 4 ? "" : ", now at right angles to those or upright"
    } (${count} of 8)`;
  if (what === "sun")
    return `Pick ${SUN[count % 3]}${count >= 3 && count % 3 === 0 ? ", or Enter takes them" : ""}`;
  return strokes === 0 ? "Stroke over ground in light" : "Stroke over the same ground in shade";
};
