// @vitest-environment jsdom
import { expect, it } from "vitest";
import { valueInfo, type ValueInfo } from "../../api/queries";
import { valueName } from "./names";

const info = (pointer: string, group: string, label: string, kind: ValueInfo["kind"] = "number"): ValueInfo =>
  valueInfo({
    pointer,
    group,
    label,
    kind,
    tells: "",
    keyable: true,
    default: 0,
  });
const values = {
  title: [
    info("/place/rotation/y", "place/rotation", "yaw"),
    info("/finish/roughness", "finish", "roughness"),
    info("/finish/base_colour", "finish", "base colour", "colour"),
  ],
  camera: [info("/position/x", "position", "x"), info("/roll", "", "roll")],
};

it("names values by group and label, as the bench does", () => {
  expect(valueName("/things/title/place/rotation/y", values, "title").name).toBe("rotation yaw");
  expect(valueName("/things/title/finish/roughness", values, "title").name).toBe("roughness");
  expect(valueName("/camera/position/x", values, "camera").name).toBe("position x");
  expect(valueName("/camera/roll", values, "camera").name).toBe("roll");
});

it("names the parts of a colour, and falls back to the last step of the address", () => {
  expect(valueName("/things/title/finish/base_colour/g", values, "title").name).toBe("base colour green");
  expect(valueName("/things/x/unknown", {}, "title").name).toBe("unknown");
});

it("names values of one of several parts with it", () => {
  const move = { ...info("/move/y", "move", "y") };
  expect(valueName("/things/title/sets/1/move/y", { set: [move] }, "title").name).toBe("set 2 move y");
});
