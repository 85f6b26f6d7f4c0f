import { look, useView } from "../../view";
import type { SolveReport } from "./usePlate";

const HIGH = 40;

/** By how much points miss, frame by frame; a click goes there. */
export function Residual({ report }: { report: SolveReport }) {
  const frame = useView((s) => s.frame);
  const { residual, weak } = report;
  const count = residual.length;
  const most = Math.max(0.1, ...residual.map((v) => v ?? 0));
  const x = (k: number) => (count > 1 ? (k / (count - 1)) * 100 : 50);
  // Where nothing bears a frame the line breaks.
  const path = residual
    .map((v, k) =>
      v === null ? "" : `${k && residual[k - 1] !== null ? "L" : "M"}${x(k)} ${HIGH * (1 - v / most)}`,
    )
    .join("");
  return (
    <svg
      className="residual"
      viewBox={`0 0 100 ${HIGH}`}
      preserveAspectRatio="none"
      role="img"
      aria-label={`Residual over time, at most ${most.toFixed(2)} pixels`}
      onClick={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        look({ frame: Math.round(((e.clientX - box.left) / box.width) * (count - 1)), playing: false });
      }}
    >
      {weak.map(([a, b]) => (
        <rect key={a} className="weak" x={x(a)} width={Math.max(0.6, x(b) - x(a))} y={0} height={HIGH} />
      ))}
      <path d={path} />
      <line
        className="now"
        x1={x(Math.min(frame, count - 1))}
        x2={x(Math.min(frame, count - 1))}
        y1={0}
        y2={HIGH}
      />
    </svg>
  );
}
