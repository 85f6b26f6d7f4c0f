import type { Operation, Shot } from "../document/patches";

/** Sets a marker at a frame, or removes the one that stands there; markers stay in order. */
export function markerAt(shot: Shot, frame: number): Operation[] {
  const markers = shot.markers ?? [];
  const there = markers.findIndex((marker) => marker.frame === frame);
  if (there >= 0) return [{ op: "remove", path: `/markers/${there}` }];
  const place = markers.filter((marker) => (marker.frame ?? 0) < frame).length;
  return [{ op: "add", path: `/markers/${place}`, value: { frame, name: "", note: "" } }];
}
