import { isBodied, type Listed } from "./things";

/** A button or list of the bench: in which section it is, and what it says, wholly or among more. */
interface BenchAction {
  of: (kind: Listed["kind"]) => boolean;
  section: string;
  says: string;
}

const only =
  (...kinds: Listed["kind"][]) =>
  (kind: Listed["kind"]) =>
    kinds.includes(kind);
const on = (of: BenchAction["of"], section: string, ...says: string[]): BenchAction[] =>
  says.map((one) => ({ of, section, says: one }));

/** What one does on the bench beside setting values: each is gone to by its name, as values are. */
export const BENCH_ACTIONS: BenchAction[] = [
  ...on(only("title"), "setting", "drag in the picture"),
  ...on(only("title"), "finish", "Choose a finish"),
  ...on(only("mark", "mesh"), "finishes", "Add a finish"),
  ...on(only("mark"), "pieces", "Add a piece"),
  ...on(isBodied, "", "Export the body"),
  ...on(isBodied, "shells", "Add a shell"),
  ...on(isBodied, "deformation", "Add a deformation"),
  ...on(only("title", "mark"), "sets", "Add a set"),
  ...on((kind) => isBodied(kind) || kind === "light" || kind === "camera", "motion", "Copy the movement to"),
  ...on(only("camera"), "", "Another camera", "Key all of it", "Bring a camera …", "Out"),
  ...on(only("plate"), "solve", "Solve", "by a rectangle", "by edges", "by eye"),
  ...on(
    only("plate"),
    "ground",
    "ground by points",
    "ground by a box",
    "horizon",
    "scale",
    "direction",
    "origin",
  ),
  ...on(only("plate"), "catchers", "add a box", "add a wall"),
  ...on(only("plate"), "words", "stand it here", "along a line", "far away"),
  ...on(only("plate"), "light", "sun from a shadow", "how dark shadows are"),
  ...on(only("plate"), "patches", "Follow a flat area"),
  ...on(only("plate"), "covers", "Draw a cover"),
  ...on(only("optics"), "", "Look as another shot"),
  ...on(only("optics"), "grade", "CDL in", "CDL out"),
  ...on(only("optics"), "table", "Bring a .cube …"),
];
