/** Our own line icons, drawn on a 20-unit grid. */
const PATHS = {
  plus: "M10 4v12M4 10h12",
  more: "M4.5 10h.01M10 10h.01M15.5 10h.01",
  close: "M5 5l10 10M15 5L5 15",
  play: "M6 4l10 6-10 6z",
  pause: "M7 4v12M13 4v12",
  first: "M5 4v12M15 4l-7 6 7 6z",
  last: "M15 4v12M5 4l7 6-7 6z",
  earlier: "M13 4l-7 6 7 6",
  later: "M7 4l7 6-7 6",
  loop: "M15.5 9a5.6 5.6 0 1 0-1.5 5M15.5 4.500V9H11",
  toAndFro: "M6 6L2.500 10 6 14M14 6l3.500 4-3.500 4M3 10h14",
  undo: "M7 4L3.5 7.5 7 11M4 7.500h7.500a4.5 4.5 0 0 1 0 9H8",
  redo: "M13 4l3.5 3.500L13 11M16 7.500H8.500a4.5 4.5 0 0 0 0 9H12",
  words: "M4 6V4h12v2M10 4v12M7.5 16h5",
  mark: "M10 3l6 5-2.500 8h-7L4 8zM8 9.500l2-1.500 2 1.500",
  sheet: "M4 3h12v14H4zM7 7h6M7 10h6",
  mesh: "M10 3l6.5 3.700v6.600L10 17l-6.500-3.700V6.700zM3.500 6.700L10 10.400l6.500-3.700M10 10.400V17",
  floor: "M2 16l4-7h8l4 7zM6 9V3h8v6M10 9v7",
  mirror: "M10 3v14M7.500 6L3 14h4.500zM12.500 6l4.500 8h-4.500z",
  lamp: "M6 3h8l2.5 8h-13zM10 11v3M6 17l4-3 4 3",
  pivot: "M10 7a3 3 0 1 0 .01 0M10 2v5M10 13v5M2 10h5M13 10h5",
  sound: "M3 8h3l4-4v12l-4-4H3zM13 7.500c1.600 1.500 1.600 3.500 0 5M15.300 5c3 3 3 7 0 10",
  lens: "M10 3a7 7 0 1 0 .01 0M10 6.500a3.500 3.500 0 1 0 .01 0M10 3v3.500M10 13.500V17M3 10h3.500M13.500 10H17",
  wave: "M2 12c2.500-7 5-7 7.500-1.500S14.500 15 18 7",
  grains: "M5 5h.01M11 4h.01M16 7h.01M8 9h.01M13 11h.01M4 12h.01M9 15h.01M16 15h.01M12 17h.01",
  camera: "M3 6h9v8H3zM12 9l5-3v8l-5-3",
  round: "M10 3a7 7 0 1 0 .01 0M3 10h14M10 3c-5 4.6-5 9.400 0 14M10 3c5 4.6 5 9.400 0 14",
  backdrop: "M4 3h12v9H4zM4 12c0 3-1 4-2 5h16c-1-1-2-2-2-5",
  film: "M3 5h14v10H3zM6 5v10M14 5v10M6 8.300H3M6 11.600H3M17 8.300h-3M17 11.600h-3",
  frame: "M3 7V3h4M13 3h4v4M17 13v4h-4M7 17H3v-4M7.5 8h5v4h-5z",
  plot: "M3 16V4M3 16h14M6.5 12.500l4-6 5 3.500z",
  search: "M9 3.500a5.5 5.5 0 1 0 .01 0M13 13l4 4",
  help: "M7.5 7.500a2.5 2.5 0 1 1 3.6 2.300c-.8.5-1.1.9-1.1 1.900M10 14.500v.01",
  down: "M5 8l5 5 5-5",
  right: "M8 5l5 5-5 5",
  trash: "M4 6h12M8 6V4h4v2M6 6l1 11h6l1-11",
  copy: "M7 7h9v9H7zM4 13V4h9",
  file: "M5 3h6l4 4v10H5zM11 3v4h4",
  check: "M4 10.500l4 4 8-9",
  warn: "M10 3l7.5 13.500h-15zM10 8v4M10 14.300v.01",
  eye: "M2.5 10c4-6 11-6 15 0-4 6-11 6-15 0M10 8a2 2 0 1 0 .01 0",
  key: "M10 4a6 6 0 1 0 .01 0M10 8.500a1.5 1.5 0 1 0 .01 0",
  reset: "M5 10a5 5 0 1 1 1.5 3.600M5 5.500V10h4.5",
} as const;

export type IconName = keyof typeof PATHS;

export function Icon({ name, size = 18 }: { name: IconName; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 20 20"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.6"
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden="true"
    >
      <path d={PATHS[name]} />
    </svg>
  );
}
