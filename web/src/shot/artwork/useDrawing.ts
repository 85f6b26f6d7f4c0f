import { useEffect, useRef, useState, type PointerEvent, type RefObject } from "react";
import { useAt, useSession } from "../document/context";
import { look } from "../view";
import {
  contoursOf,
  curveAt,
  dataOf,
  inserted,
  lineOf,
  ofKind,
  shifted,
  withHandle,
  type Contour,
  type Node,
  type NodeKind,
  type Point,
} from "./nodes";

export interface Chosen {
  contour: number;
  node: number;
}

export type Grip = "node" | "before" | "after";

interface Drag {
  kind: Grip;
  chosen: Chosen;
  id: string;
}

/** An outline, or one line, that is drawn: what there is, what is chosen, and all that can be done to it. */
export interface Drawing {
  path: string;
  line: boolean;
  contours: Contour[];
  chosen: Chosen | null;
  /** The point that is chosen. */
  now: Node | undefined;
  /** The contour that is not closed yet; -1 where all are. */
  open: number;
  put: (next: Contour[]) => void;
  close: () => void;
  remove: () => void;
  turn: (kind: NodeKind) => void;
  split: (event: React.MouseEvent, contour: number, node: number) => void;
  take: (event: PointerEvent, kind: Grip, pick: Chosen) => void;
  onGround: (event: PointerEvent<SVGSVGElement>) => void;
  onMove: (event: PointerEvent<SVGSVGElement>) => void;
  onUp: () => void;
  onKeyDown: (event: React.KeyboardEvent) => void;
}

/** The outline kept at an address, with handles on all of it; changed elsewhere, it is read again. */
function useContours(at: string, line: boolean) {
  const session = useSession();
  const written = line ? lineOf : dataOf;
  const path = String(useAt(at) ?? "");
  const [contours, setContours] = useState<Contour[]>(() => contoursOf(path));
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const sent = useRef(path);

  // Undo, or another tab, changed the outline.
  useEffect(() => {
    if (path !== sent.current) {
      sent.current = path;
      setContours(contoursOf(path));
      setChosen(null);
    }
  }, [path]);

  function put(next: Contour[], id?: string) {
    setContours(next);
    const data = written(next);
    if (data && data !== sent.current) {
      sent.current = data;
      session.edit([{ op: "replace", path: at, value: data }], id);
    }
  }
  const withNodes = (c: number, make: (contour: Contour) => Contour) =>
    contours.map((contour, i) => (i === c ? make(contour) : contour));
  /** Another point in the place of the chosen one. */
  const withChosen = (pick: Chosen, make: (node: Node, contour: Contour) => Node) =>
    withNodes(pick.contour, (contour) => ({
      ...contour,
      nodes: contour.nodes.map((node, i) => (i === pick.node ? make(node, contour) : node)),
    }));
  return { path, contours, chosen, setChosen, put, withNodes, withChosen, written };
}

/** What points do on the paper: set, dragged, closed, split. */
export function useDrawing(at: string, line: boolean, svg: RefObject<SVGSVGElement | null>): Drawing {
  const { path, contours, chosen, setChosen, put, withNodes, withChosen, written } = useContours(at, line);
  const drag = useRef<Drag | null>(null);
  const open = contours.findIndex((c) => !c.closed);
  const now = chosen ? contours[chosen.contour]?.nodes[chosen.node] : undefined;

  function under(event: { clientX: number; clientY: number }): Point {
    const m = svg.current!.getScreenCTM()!.inverse();
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(m);
    return [Number(p.x.toFixed(4)), Number((-p.y).toFixed(4))];
  }

  function onGround(event: PointerEvent<SVGSVGElement>) {
    if (event.button !== 0 || (line && open < 0)) return;
    const node = { at: under(event), before: null, after: null, kind: "corner" as const };
    const next =
      open >= 0
        ? withNodes(open, (c) => ({ ...c, nodes: [...c.nodes, node] }))
        : [...contours, { nodes: [node], closed: false }];
    const c = open >= 0 ? open : contours.length;
    const pick = { contour: c, node: next[c]!.nodes.length - 1 };
    put(next);
    setChosen(pick);
    // Dragged on, a new point grows its handles.
    drag.current = { kind: "after", chosen: pick, id: crypto.randomUUID() };
    event.currentTarget.setPointerCapture(event.pointerId);
  }

  function onMove(event: PointerEvent<SVGSVGElement>) {
    const d = drag.current;
    if (!d) return;
    const to = under(event);
    put(
      withChosen(d.chosen, (node) => {
        if (d.kind === "node") return shifted(node, to[0] - node.at[0], to[1] - node.at[1]);
        if (Math.hypot(to[0] - node.at[0], to[1] - node.at[1]) < 0.01 && !node[d.kind]) return node;
        const fresh = !node.before && !node.after ? { ...node, kind: "symmetric" as const } : node;
        return withHandle(fresh, d.kind, to);
      }),
      d.id,
    );
  }

  const close = () => put(withNodes(open, (c) => ({ ...c, closed: true })));

  function take(event: PointerEvent, kind: Grip, pick: Chosen) {
    event.stopPropagation();
    const first = kind === "node" && open >= 0 && pick.contour === open && pick.node === 0;
    if (first && contours[open]!.nodes.length > 2) return close();
    setChosen(pick);
    drag.current = { kind, chosen: pick, id: crypto.randomUUID() };
    svg.current!.setPointerCapture(event.pointerId);
  }

  function remove() {
    if (!chosen) return;
    const next = withNodes(chosen.contour, (c) => ({
      ...c,
      nodes: c.nodes.filter((_, i) => i !== chosen.node),
    })).filter((c) => c.nodes.length > (c.closed ? 1 : 0));
    if (!written(next) && written(contours)) return;
    put(next);
    setChosen(null);
  }

  function turn(kind: NodeKind) {
    if (!chosen) return;
    const { node: i } = chosen;
    put(
      withChosen(chosen, (node, { nodes }) =>
        ofKind(node, kind, nodes.at(i - 1)!.at, nodes[(i + 1) % nodes.length]!.at),
      ),
    );
  }

  function split(event: React.MouseEvent, c: number, i: number) {
    event.stopPropagation();
    const { nodes } = contours[c]!;
    const after = (i + 1) % nodes.length;
    const [a, b] = [nodes[i]!, nodes[after]!];
    const to = under(event);
    const ts = Array.from({ length: 49 }, (_, k) => (k + 1) / 50);
    const away = (t: number) => Math.hypot(...curveAt(a, b, t).map((v, k) => v - to[k]!));
    const [p, m, q] = inserted(
      a,
      b,
      ts.reduce((best, next) => (away(next) < away(best) ? next : best)),
    );
    const into = (node: Node, k: number) => (k === i ? [p, m] : k === after ? [q] : [node]);
    put(withNodes(c, (contour) => ({ ...contour, nodes: contour.nodes.flatMap(into) })));
  }

  function onKeyDown(event: React.KeyboardEvent) {
    const by = stepOf(event);
    if (event.key === "Escape") look({ surface: null });
    else if (chosen && (event.key === "Delete" || event.key === "Backspace")) remove();
    else if (chosen && by) put(withChosen(chosen, (node) => shifted(node, ...by)));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  return {
    path,
    line,
    contours,
    chosen,
    now,
    open,
    put,
    close,
    remove,
    turn,
    split,
    take,
    onGround,
    onMove,
    onUp: () => (drag.current = null),
    onKeyDown,
  };
}

/** How far an arrow key goes. */
function stepOf(event: React.KeyboardEvent): Point | undefined {
  const step = event.shiftKey ? 0.05 : 0.005;
  const by: Record<string, Point> = {
    ArrowLeft: [-step, 0],
    ArrowRight: [step, 0],
    ArrowUp: [0, step],
    ArrowDown: [0, -step],
  };
  return by[event.key];
}
