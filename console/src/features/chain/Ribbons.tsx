import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { OutcomeDefinitions, OutcomeShape, STATE_WORDS } from "../../ui/outcome";
import { clock, durationWords } from "../../ui/times";
import { useNow } from "../../ui/useNow";
import type { ChainStep } from "./model";

const ROW = 24;
const WIDTH = 1000;
const LEFT = 190;
const TOP = 22;

type Props = {
  steps: ChainStep[];
  critical: string[];
  zone: string;
  selected: string;
  onSelect: (step: string) => void;
};

/** The steps as ribbons on a time axis, with what each waited for; the way that the length came from is heavier. */
export function Ribbons({ steps, critical, zone, selected, onSelect }: Props) {
  const { palette } = useTheme();
  const now = useNow(2_000);
  const ran = steps.filter((step) => step.from).sort((one, other) => at(one.from) - at(other.from));
  if (ran.length === 0) return <Typography color="textSecondary">No step has begun yet.</Typography>;
  const from = Math.min(...ran.map((step) => at(step.from)));
  const until = Math.max(from + 1_000, ...ran.map((step) => (step.until ? at(step.until) : now)));
  const x = (time: number) => LEFT + ((time - from) / (until - from)) * (WIDTH - LEFT - 90);
  const row = new Map(ran.map((step, index) => [step.step, TOP + index * ROW]));
  return (
    <Box sx={{ overflowX: "auto" }} tabIndex={0} role="region" aria-label="Steps over time">
      <svg
        viewBox={`0 0 ${WIDTH} ${TOP + ran.length * ROW + 8}`}
        style={{ minWidth: 640, width: "100%" }}
        role="img"
        aria-label={`Steps over time; the length came from ${critical.join(", then ")}`}
      >
        <OutcomeDefinitions />
        {[0, 0.25, 0.5, 0.75, 1].map((share) => {
          const time = from + share * (until - from);
          return (
            <g key={share}>
              <line x1={x(time)} x2={x(time)} y1={TOP - 6} y2={TOP + ran.length * ROW} stroke={palette.divider} />
              <text x={x(time)} y={11} fontSize="11" textAnchor="middle" fill={palette.text.secondary}>
                {clock(time, zone, until - from < 600_000)}
              </text>
            </g>
          );
        })}
        {ran.map((step) => {
          const y = row.get(step.step) ?? 0;
          const start = x(at(step.from));
          const end = x(step.until ? at(step.until) : now);
          const heavy = critical.includes(step.step);
          const before = step.waitedFor ? row.get(step.waitedFor) : undefined;
          return (
            // biome-ignore lint/a11y/useSemanticElements: a button cannot stand in a drawing
            <g
              key={step.step}
              role="button"
              tabIndex={0}
              aria-label={`${step.step}, ${STATE_WORDS[step.state ?? ""] ?? ""}`}
              style={{ cursor: "pointer" }}
              onClick={() => onSelect(step.step)}
              onKeyDown={(event) => event.key === "Enter" && onSelect(step.step)}
            >
              {selected === step.step && <rect x={0} y={y - 3} width={WIDTH} height={ROW} fill={palette.paper2} />}
              <text
                x={LEFT - 10}
                y={y + 13}
                fontSize="12.5"
                textAnchor="end"
                fontWeight={heavy ? 700 : 450}
                fill={palette.text.primary}
              >
                {step.step}
              </text>
              {before !== undefined && (
                <path
                  d={`M${start} ${before + 15}V${y + 2}`}
                  stroke={heavy ? palette.text.primary : palette.text.secondary}
                  strokeWidth={heavy ? 1.8 : 0.8}
                  strokeDasharray={heavy ? undefined : "3 3"}
                  fill="none"
                />
              )}
              <OutcomeShape x={start} y={y + 3} width={Math.max(3, end - start)} height={13} state={step.state ?? ""} />
              {heavy && (
                <rect
                  x={start - 1}
                  y={y + 2}
                  width={Math.max(3, end - start) + 2}
                  height={15}
                  fill="none"
                  stroke={palette.text.primary}
                  strokeWidth="1.5"
                />
              )}
              <text x={Math.max(end, start + 3) + 6} y={y + 13} fontSize="11" fill={palette.text.secondary}>
                {durationWords(Math.max(0, (step.until ? at(step.until) : now) - at(step.from)))}
              </text>
            </g>
          );
        })}
      </svg>
    </Box>
  );
}

const at = (time: string | undefined) => (time ? new Date(time).getTime() : 0);
