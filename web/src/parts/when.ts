const UNITS: [Intl.RelativeTimeFormatUnit, number][] = [
  ["day", 86400],
  ["hour", 3600],
  ["minute", 60],
];
const words = new Intl.RelativeTimeFormat("en", { numeric: "auto" });

/** How long ago, in words. */
export function ago(moment: string, now = Date.now()): string {
  const seconds = (Date.parse(moment) - now) / 1000;
  for (const [unit, size] of UNITS)
    if (Math.abs(seconds) >= size) return words.format(Math.round(seconds / size), unit);
  return "just now";
}

/** A length of time, in words short enough for a gauge. */
export function lasting(seconds: number): string {
  const s = Math.max(0, Math.round(seconds));
  if (s < 60) return `${s} s`;
  if (s < 3600) return `${Math.floor(s / 60)} min ${String(s % 60).padStart(2, "0")} s`;
  return `${Math.floor(s / 3600)} h ${String(Math.floor((s % 3600) / 60)).padStart(2, "0")} min`;
}

/** The frame that somebody types: a frame, a timecode, seconds (`3 s`), or so many on or back (`+12`). */
export function frameTyped(text: string, rate: { num: number; den: number }, present: number): number | null {
  const plain = text.trim();
  const on = /^([+-])\s*(\d{1,6})$/.exec(plain);
  if (on) return present + (on[1] === "+" ? 1 : -1) * Number(on[2]);
  if (/^\d{1,6}$/.test(plain)) return Number(plain);
  const seconds = /^(\d+(?:[.,]\d+)?)\s*s$/.exec(plain);
  if (seconds) return Math.round((Number(seconds[1]!.replace(",", ".")) * rate.num) / rate.den);
  const parts = plain.split(/[:;.]/);
  if (parts.length < 2 || parts.length > 4 || parts.some((part) => !/^\d{1,3}$/.test(part))) return null;
  const fps = Math.round(rate.num / rate.den);
  const [frames = 0, s = 0, m = 0, h = 0] = parts.map(Number).reverse();
  if (frames >= fps || s > 59 || m > 59) return null;
  const whole = (h * 3600 + m * 60 + s) * fps + frames;
  // Numbers that drop-frame timecode leaves out.
  const minutes = h * 60 + m;
  const drops = rate.den === 1001 && fps % 30 === 0 ? (fps / 15) * (minutes - Math.floor(minutes / 10)) : 0;
  return whole - drops;
}

/** SMPTE ST 12-1 timecode; drop-frame (`;`) at 30000/1001 and 60000/1001. */
export function timecode(frame: number, rate: { num: number; den: number }): string {
  const fps = Math.round(rate.num / rate.den);
  const drop = rate.den === 1001 && fps % 30 === 0;
  let f = Math.round(frame);
  if (drop) {
    const skip = fps / 15;
    const tenMinutes = fps * 600 - skip * 9;
    const rest = f % tenMinutes;
    f += skip * 9 * Math.floor(f / tenMinutes);
    if (rest >= fps * 60) f += skip * Math.floor((rest - fps * 60) / (fps * 60 - skip) + 1);
  }
  const two = (n: number) => String(n).padStart(2, "0");
  const s = Math.floor(f / fps);
  return `${two(Math.floor(s / 3600))}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}${drop ? ";" : ":"}${two(f % fps)}`;
}
