import { useLayoutEffect, useState, type RefObject } from "react";

export interface FittedBox {
  width: number;
  height: number;
  marginLeft: number;
  marginTop: number;
}

/** The largest box of an aspect in an area, in the middle of it. */
export function useFittedBox(area: RefObject<HTMLElement | null>, aspect: number): FittedBox {
  const [box, setBox] = useState<FittedBox>({ width: 0, height: 0, marginLeft: 0, marginTop: 0 });
  // Before anything is painted: the traced picture is asked for as soon as its size is known.
  useLayoutEffect(() => {
    const measure = () => {
      const room = area.current!.getBoundingClientRect();
      // Few different widths, as kept frames have the size they were traced at, and whole pixels, as
      // anything else blurs them.
      const wide = Math.max(16, Math.floor(Math.min(room.width, room.height * aspect) / 16) * 16);
      const tall = Math.round(wide / aspect);
      setBox({
        width: wide,
        height: tall,
        marginLeft: Math.round(room.left + (room.width - wide) / 2) - room.left,
        marginTop: Math.round(room.top + (room.height - tall) / 2) - room.top,
      });
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(area.current!);
    return () => observer.disconnect();
  }, [area, aspect]);
  return box;
}
