/** Between scene-linear Rec.709 and sRGB codes (IEC 61966-2-1). */

export interface Colour {
  r: number;
  g: number;
  b: number;
}

const encode = (x: number) => (x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055);
const decode = (x: number) => (x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4);

export function toHex({ r, g, b }: Colour): string {
  const code = (x: number) =>
    Math.round(encode(Math.min(1, Math.max(0, x))) * 255)
      .toString(16)
      .padStart(2, "0");
  return `#${code(r)}${code(g)}${code(b)}`;
}

/** Colour of `#rgb`, `#rrggbb` (the `#` may be missing); null for anything else. */
export function fromHex(text: string): Colour | null {
  let hex = text.trim().replace(/^#/, "");
  if (/^[0-9a-f]{3}$/i.test(hex)) hex = [...hex].map((c) => c + c).join("");
  if (!/^[0-9a-f]{6}$/i.test(hex)) return null;
  const [r, g, b] = [0, 2, 4].map((i) => Number(decode(parseInt(hex.slice(i, i + 2), 16) / 255).toFixed(6)));
  return { r: r!, g: g!, b: b! };
}
