import { expect, it, vi } from "vitest";
import { handleKey, pressed, useCommandState } from "./commands";

const key = (k: string, more: Partial<KeyboardEventInit> = {}) =>
  new KeyboardEvent("keydown", { key: k, cancelable: true, bubbles: true, ...more });

it("names combinations the same way whatever the platform", () => {
  expect(pressed(key(" "))).toBe("Space");
  expect(pressed(key("z", { ctrlKey: true, shiftKey: true }))).toBe("Mod+Shift+Z");
  expect(pressed(key("z", { metaKey: true }))).toBe("Mod+Z");
  expect(pressed(key("?", { shiftKey: true }))).toBe("?");
  expect(pressed(key("ArrowLeft", { shiftKey: true }))).toBe("Shift+ArrowLeft");
});

it("leaves keys to the field one types in, unless told otherwise", () => {
  const run = vi.fn(),
    always = vi.fn();
  useCommandState.setState({
    sets: new Map([
      [
        Symbol("test"),
        [
          { id: "t", label: "Trace", group: "", keys: ["T"], run },
          { id: "k", label: "Palette", group: "", keys: ["Mod+K"], run: always, always: true },
        ],
      ],
    ]),
  });
  const field = document.body.appendChild(document.createElement("textarea"));
  field.addEventListener("keydown", handleKey);
  document.body.addEventListener("keydown", handleKey);
  field.dispatchEvent(key("t"));
  expect(run).not.toHaveBeenCalled();
  field.dispatchEvent(key("k", { ctrlKey: true }));
  expect(always).toHaveBeenCalledTimes(1);
  document.body.dispatchEvent(key("t"));
  expect(run).toHaveBeenCalledTimes(1);
});
