import { useRef, type PointerEvent } from "react";
import { useVocabulary } from "../../api/queries";
import { useSession } from "../document/context";
import { cameraOperations } from "../document/spaces";
import { useView } from "../view";
import { dolly, orbit, truck } from "./orbit";
import { cursorFor, shapingAt, type Shaping } from "./shaping";
import type { CameraPose, LiveStage } from "./live/stage";

/** Drag orbits, Shift-drag trucks, the wheel dollies; the live camera moves at once, edits follow. */
export function useCameraGesture(stage: React.RefObject<LiveStage | null>, frame: number) {
  const session = useSession();
  const drag = useRef<{
    x: number;
    y: number;
    pose: CameraPose;
    id: string;
    moved: boolean;
    shape: Shaping | null;
  } | null>(null);
  const vocabulary = useVocabulary();
  const hovered = useRef(0);
  const rolling = useRef<{ id: string; timer: number } | null>(null);

  function put(pose: CameraPose, id: string) {
    const { shot, scene } = session.store.getState();
    if (!shot || !scene) return;
    stage.current?.hold(pose);
    session.edit(cameraOperations(shot, scene, pose, frame), id);
  }

  function under(event: PointerEvent<HTMLDivElement>) {
    const rect = event.currentTarget.getBoundingClientRect();
    return (
      stage.current?.seen.under(
        (event.clientX - rect.left) / rect.width,
        (event.clientY - rect.top) / rect.height,
      ) ?? null
    );
  }

  /** The pointer says what a drag would do. */
  function hover(event: PointerEvent<HTMLDivElement>) {
    const view = useView.getState();
    const { shot } = session.store.getState();
    const now = event.timeStamp;
    if (!shot || typeof view.pointed !== "object" || now - hovered.current < 90) return;
    hovered.current = now;
    event.currentTarget.style.cursor = cursorFor(shot, view, under(event)?.hit ?? null);
  }

  async function release() {
    await session.drawnUp();
    if (!drag.current && !rolling.current) stage.current?.hold(null);
  }

  return {
    start(event: PointerEvent<HTMLDivElement>) {
      if (event.button !== 0 || !stage.current || !session.store.getState().scene) return;
      if (event.target instanceof HTMLTextAreaElement) return;
      const { shot } = session.store.getState();
      const found = under(event);
      const tall = event.currentTarget.clientHeight;
      const view = useView.getState();
      const shape =
        found && shot && !event.shiftKey
          ? shapingAt(stage.current, shot, view, found, tall, vocabulary?.fresh.pose)
          : null;
      drag.current = {
        x: event.clientX,
        y: event.clientY,
        pose: stage.current.cameraPose(),
        id: crypto.randomUUID(),
        moved: false,
        shape,
      };
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    move(event: PointerEvent<HTMLDivElement>) {
      const d = drag.current;
      if (!stage.current) return;
      if (!d) {
        hover(event);
        return;
      }
      const [dx, dy] = [event.clientX - d.x, event.clientY - d.y];
      if (!d.moved && Math.hypot(dx, dy) < 4) return;
      d.moved = true;
      const { shot } = session.store.getState();
      if (d.shape) {
        if (shot) session.edit(d.shape(dx, dy, frame, shot), d.id);
        return;
      }
      const height = event.currentTarget.clientHeight;
      const metres = stage.current.metresPerHeight() / height;
      put(
        event.shiftKey
          ? truck(d.pose, -dx * metres, dy * metres)
          : orbit(d.pose, (dx / height) * 150, (dy / height) * 120),
        d.id,
      );
    },
    /** True when it was a drag, not a click. */
    end(): boolean {
      const moved = drag.current?.moved ?? false;
      const shaped = drag.current?.shape;
      drag.current = null;
      if (moved && !shaped) void release();
      return moved;
    },
    wheel(event: React.WheelEvent) {
      if (!stage.current || !session.store.getState().scene) return;
      const roll = rolling.current ?? { id: crypto.randomUUID(), timer: 0 };
      clearTimeout(roll.timer);
      roll.timer = window.setTimeout(() => {
        rolling.current = null;
        void release();
      }, 350);
      rolling.current = roll;
      put(
        dolly(stage.current.cameraPose(), Math.exp(Math.max(-120, Math.min(120, event.deltaY)) * 0.0012)),
        roll.id,
      );
    },
  };
}
