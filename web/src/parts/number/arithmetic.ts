/** Typed numbers: arithmetic with units, converted to the unit of the field. */

const LENGTHS: Record<string, number> = { mm: 0.001, cm: 0.01, m: 1, km: 1000, in: 0.0254, ft: 0.3048 };
const ANGLES: Record<string, number> = { "°": 1, deg: 1, turn: 360, rad: 180 / Math.PI };

/** How many of the field's units one of the typed unit is; undefined where they do not fit. */
function factor(typed: string, unit: string): number | undefined {
  if (typed === unit) return 1;
  if (typed in LENGTHS && unit in LENGTHS) return LENGTHS[typed]! / LENGTHS[unit]!;
  if (typed in ANGLES && unit in ANGLES) return ANGLES[typed]! / ANGLES[unit]!;
  if (unit === "stops" && (typed === "stop" || typed === "stops")) return 1;
  if (unit === "" && typed === "%") return 0.01;
  return undefined;
}

/**
 * Value of a typed expression in the field's unit, or null where it makes no sense.
 * A leading operator works on the present value: `*2`, `+10cm`, `/3`; of stops `/3` means a third of the
 * light. A bare `-5` is minus five.
 */
export function evaluate(text: string, unit = "", now = 0): number | null {
  const tokens = text.replace(/,/g, ".").match(/\d*\.?\d+(?:e[+-]?\d+)?|[a-z°%‰]+|[-+*/()]|\S/gi);
  if (!tokens) return null;
  let at = 0;
  const peek = () => tokens[at];

  function sum(): number {
    let value = product();
    while (peek() === "+" || peek() === "-")
      value = tokens![at++] === "+" ? value + product() : value - product();
    return value;
  }
  function product(): number {
    let value = signed();
    while (peek() === "*" || peek() === "/")
      value = tokens![at++] === "*" ? value * signed() : value / signed();
    return value;
  }
  function signed(): number {
    if (peek() === "-") return (at++, -signed());
    if (peek() === "+") return (at++, signed());
    if (peek() === "(") {
      at++;
      const value = sum();
      if (tokens![at++] !== ")") throw new Error("bracket");
      return value;
    }
    const token = tokens![at++];
    if (token === undefined || !/^[\d.]/.test(token)) throw new Error("number");
    const next = peek();
    if (next !== undefined && /^[a-z°%‰]/i.test(next)) {
      const by = factor(next.toLowerCase(), unit);
      if (by === undefined) throw new Error("unit");
      at++;
      return Number(token) * by;
    }
    return Number(token);
  }

  try {
    let value: number;
    const lead = peek();
    if (lead === "*" || lead === "/" || lead === "+") {
      at++;
      const operand = lead === "+" ? sum() : product();
      // Stops are powers of two: a third of the light is less by log2(3) stops.
      if (unit === "stops" && lead !== "+")
        value = lead === "*" ? now + Math.log2(operand) : now - Math.log2(operand);
      else value = lead === "*" ? now * operand : lead === "/" ? now / operand : now + operand;
    } else {
      value = sum();
    }
    return at === tokens.length && Number.isFinite(value) ? value : null;
  } catch {
    return null;
  }
}

/** A value with as many digits as its step makes sense of. */
export function shown(value: number, step = 0.01): string {
  const digits = Math.max(0, Math.min(5, Math.ceil(-Math.log10(step)) + 1));
  const text = value.toFixed(digits);
  const short = text.includes(".") ? text.replace(/\.?0+$/, "") || "0" : text;
  // What is a hair below nothing is nothing.
  return short === "-0" ? "0" : short;
}

/** Twelve digits are enough; binary fractions need not be shown or stored. */
export function tidy(value: number): number {
  return Number(value.toPrecision(12));
}
