import type { CameraPose } from "./live/stage";

type V = [number, number, number];

const minus = (a: V, b: V): V => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const plus = (a: V, b: V, by = 1): V => [a[0] + b[0] * by, a[1] + b[1] * by, a[2] + b[2] * by];
const cross = (a: V, b: V): V => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const length = (a: V): number => Math.hypot(...a);
const unit = (a: V): V => {
  const l = length(a) || 1;
  return [a[0] / l, a[1] / l, a[2] / l];
};

const STEEPEST = (89 * Math.PI) / 180;

/** Turn around the aim: degrees to the right and up. */
export function orbit(pose: CameraPose, right: number, up: number): CameraPose {
  const back = minus(pose.position, pose.aim);
  const far = length(back);
  if (far < 1e-6) return pose;
  const azimuth = Math.atan2(back[0], back[2]) - (right * Math.PI) / 180;
  const elevation = Math.max(-STEEPEST, Math.min(STEEPEST, Math.asin(back[1] / far) + (up * Math.PI) / 180));
  const flat = Math.cos(elevation) * far;
  const turned: V = [Math.sin(azimuth) * flat, Math.sin(elevation) * far, Math.cos(azimuth) * flat];
  return { position: plus(pose.aim, turned), aim: pose.aim };
}

/** Move camera and aim together: metres to the right and up in the picture. */
export function truck(pose: CameraPose, right: number, up: number): CameraPose {
  const back = unit(minus(pose.position, pose.aim));
  const side = unit(Math.abs(back[1]) > 0.9999 ? [1, 0, 0] : cross([0, 1, 0], back));
  const above = cross(back, side);
  const by = plus([side[0] * right, side[1] * right, side[2] * right], above, up);
  return { position: plus(pose.position, by), aim: plus(pose.aim, by) };
}

/** Move towards (below 1) or away from (above 1) the aim. */
export function dolly(pose: CameraPose, factor: number): CameraPose {
  const back = minus(pose.position, pose.aim);
  const far = Math.max(0.05, Math.min(5000, length(back) * factor));
  return { position: plus(pose.aim, unit(back), far), aim: pose.aim };
}
