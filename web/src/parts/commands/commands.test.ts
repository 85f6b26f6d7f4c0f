// @vitest-environment jsdom
import { expect, it, vi } from "vitest";
import { FOCUSING, handleFocus, handleKey, pressed, useCommandState } from "./commands";

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

it("keeps Space for the button one came to by keys, not for the one clicked", () => {
  const run = vi.fn();
  useCommandState.setState({
    sets: new Map([[Symbol("test"), [{ id: "p", label: "Play", group: "", keys: ["Space"], run }]]]),
  });
  const button = document.body.appendChild(document.createElement("button"));
  for (const type of FOCUSING) button.addEventListener(type, handleFocus);
  button.addEventListener("keydown", handleKey);

  button.dispatchEvent(key("Tab"));
  button.focus();
  button.dispatchEvent(key(" "));
  expect(run).not.toHaveBeenCalled();

  button.blur();
  button.dispatchEvent(new Event("pointerdown"));
  button.focus();
  button.dispatchEvent(key(" "));
  expect(run).toHaveBeenCalledTimes(1);
});
