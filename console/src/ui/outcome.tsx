import { useTheme } from "@mui/material/styles";
import type { Outcomes } from "../theme";

/** What a state is called, everywhere alike. */
export const STATE_WORDS: Record<string, string> = {
  waiting: "waiting",
  running: "running",
  succeeded: "succeeded",
  warned: "with warnings",
  failed: "failed",
  "timed-out": "timed out",
  cancelled: "cancelled",
  skipped: "skipped",
  missed: "missed",
  pending: "not yet",
  "out-of-reach": "not reached",
};

export const STATES = Object.keys(STATE_WORDS).slice(0, 9);

type Shape = { x: number; y: number; width: number; height: number; state: string };

/** The definitions that the shapes refer to; each drawing has its own. */
export function OutcomeDefinitions() {
  const { outcome } = useTheme().palette;
  return (
    <defs>
      <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="2.4" height="5" fill={outcome.bad} />
      </pattern>
      <linearGradient id="fade">
        <stop offset="0.35" stopColor={outcome.bad} />
        <stop offset="0.75" stopColor={outcome.bad} stopOpacity="0" />
      </linearGradient>
    </defs>
  );
}

/** A run as a bar: its outcome is told by fill and outline, never by colour alone. */
export function OutcomeShape({ x, y, width, height, state }: Shape) {
  const { outcome } = useTheme().palette;
  return shapeOf({ x, y, width, height, state }, outcome);
}

function shapeOf({ x, y, width, height, state }: Shape, colour: Outcomes) {
  const box = { x, y, width, height, rx: 1.5 };
  const inset = {
    x: x + 0.75,
    y: y + 0.75,
    width: Math.max(1, width - 1.5),
    height: height - 1.5,
    rx: 1.5,
    fill: "none",
  };
  switch (state) {
    case "succeeded":
      return <rect {...box} fill={colour.fine} />;
    case "warned":
      return (
        <g>
          <rect {...box} fill={colour.fine} />
          <rect x={x} y={y} width={width} height={Math.max(3, height * 0.3)} fill={colour.amber} />
        </g>
      );
    case "failed": {
      const notch = Math.min(5, width * 0.6);
      const path = `M${x} ${y}h${width}l${-notch} ${height / 2}l${notch} ${height / 2}h${-width}z`;
      return <path d={path} fill={colour.bad} />;
    }
    case "timed-out":
      return (
        <g>
          <rect {...box} fill="url(#hatch)" />
          <rect {...box} fill="url(#fade)" />
          <rect {...inset} stroke={colour.bad} strokeWidth="1" />
        </g>
      );
    case "cancelled":
      return (
        <g>
          <rect {...box} fill={colour.slate} fillOpacity="0.45" />
          <line
            x1={x - 2}
            x2={x + width + 2}
            y1={y + height / 2}
            y2={y + height / 2}
            stroke="currentColor"
            strokeWidth="1.4"
          />
        </g>
      );
    case "running":
      return (
        <g>
          <rect {...box} fill={colour.going} />
          <rect x={x + width - 3} y={y} width="3" height={height} fill="currentColor">
            <animate attributeName="opacity" values="1;0.15;1" dur="1.6s" repeatCount="indefinite" />
          </rect>
        </g>
      );
    case "waiting":
      return <rect {...inset} stroke={colour.going} strokeWidth="1.6" />;
    case "missed":
      return <rect {...inset} stroke={colour.bad} strokeWidth="1.6" strokeDasharray="1.8 2" />;
    case "skipped":
    case "out-of-reach":
      return <rect {...inset} stroke={colour.slate} strokeWidth="1.6" strokeDasharray="1.8 2" />;
    default:
      return <rect {...inset} stroke={colour.coming} strokeWidth="1" />;
  }
}
