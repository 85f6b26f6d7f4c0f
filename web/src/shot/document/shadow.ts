import { api, got } from "../../api/client";
import { sayFault } from "../../parts/notices";
import type { Session } from "./session";
import { setValue } from "./values";

const AXES = ["x", "y", "z"] as const;

/**
 * Drag the tip of a shadow: the light goes where its shadow falls on the place last asked for. One question
 * at a time.
 */
export class ShadowDrag {
  private next: [number, number, number] | null = null;
  private busy = false;
  private readonly gesture = crypto.randomUUID();

  constructor(
    private readonly session: Session,
    private readonly light: string,
    private readonly thing: string,
    private readonly frame: number,
  ) {}

  to(target: [number, number, number]): void {
    this.next = target;
    if (!this.busy) void this.run();
  }

  private async run(): Promise<void> {
    this.busy = true;
    try {
      while (this.next) {
        const target = this.next;
        this.next = null;
        await this.session.settled();
        const body = { frame: this.frame, light: this.light, thing: this.thing, target };
        const found = await got(
          api.POST("/api/shots/{shot}/shadow", { params: { path: { shot: this.session.id } }, body }),
        );
        const shot = this.session.store.getState().shot!;
        const operations = (["position", "aim"] as const).flatMap((part) =>
          AXES.flatMap((axis) =>
            setValue(shot, `/things/${this.light}/${part}/${axis}`, found[part][axis]!, this.frame),
          ),
        );
        this.session.edit(operations, this.gesture);
      }
    } catch (why) {
      sayFault(why);
    } finally {
      this.busy = false;
    }
  }
}
