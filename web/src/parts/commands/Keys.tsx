const mac = /Mac|iPhone|iPad/.test(navigator.userAgent);
const NAMES: Record<string, string> = {
  Mod: mac ? "⌘" : "Ctrl",
  Alt: mac ? "⌥" : "Alt",
  Shift: mac ? "⇧" : "Shift",
  ArrowLeft: "←",
  ArrowRight: "→",
  ArrowUp: "↑",
  ArrowDown: "↓",
  Escape: "Esc",
};

export const written = (combination: string): string =>
  combination
    .split("+")
    .map((part) => NAMES[part] ?? part)
    .join(mac ? "" : " ");

export const Keys = ({ combination }: { combination: string }) => <kbd>{written(combination)}</kbd>;
