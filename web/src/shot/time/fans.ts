/**
 * The value of a set's timing that makes its letters spread over `span` frames from the first to the last.
 */
export function spanned(
  span: number,
  stays: boolean,
  steps: number,
): { name: "total" | "delay"; value: number } {
  const frames = Math.max(0, span);
  if (stays) return { name: "total", value: Number(Math.min(5000, frames).toFixed(2)) };
  return { name: "delay", value: Number(Math.min(500, frames / Math.max(1, steps)).toFixed(3)) };
}
