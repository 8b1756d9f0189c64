import { useTheme } from "@mui/material/styles";
import { type KeyboardEvent, useState } from "react";
import { useNavigate } from "react-router";
import type { Bar, BoardRow } from "../../api/types";
import { OutcomeShape, STATE_WORDS } from "../../ui/outcome";
import { millis } from "../../ui/times";
import { LANE, type Scale } from "./Board";
import type { Tip } from "./BoardTip";
import { type Foreseen, startKey } from "./useToday";

const THIN = 4;
const TALL = 13;

type Place = { start: number; end: number };

function placeOf(bar: Bar, scale: Scale): Place {
  const start = new Date(bar.start ?? bar.at).getTime();
  if (!bar.start) return { start, end: start };
  const end = bar.end ? new Date(bar.end).getTime() : scale.now;
  return { start, end };
}

/** The line of one job. Arrows move along its runs, Enter opens the one that is marked. */
export function BoardLane({
  row,
  foreseen,
  y,
  scale,
  onTip,
}: {
  row: BoardRow;
  foreseen: Foreseen;
  y: number;
  scale: Scale;
  onTip: (tip?: Tip) => void;
}) {
  const { palette } = useTheme();
  const navigate = useNavigate();
  const [marked, setMarked] = useState<number>();
  const usual = row.usual ? millis(row.usual) : 0;
  const x = (at: number) => scale.left + ((at - scale.from) / (scale.until - scale.from)) * scale.width;
  const box = (place: Place) => {
    const right = scale.left + scale.width;
    const from = Math.max(scale.left, Math.min(x(place.start), right - THIN));
    return { x: from, width: Math.max(THIN, Math.min(x(place.end), right) - from) };
  };
  const top = y + (LANE - TALL) / 2;
  const show = (bar: Bar) => onTip({ row, bar, x: box(placeOf(bar, scale)).x, y: y + LANE });
  const move = (event: KeyboardEvent) => {
    if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
      event.preventDefault();
      const last = row.runs.length - 1;
      const next = marked === undefined ? last : marked + (event.key === "ArrowRight" ? 1 : -1);
      const index = Math.max(0, Math.min(last, next));
      setMarked(index);
      if (row.runs[index]) show(row.runs[index]);
    } else if (event.key === "Escape") {
      setMarked(undefined);
      onTip(undefined);
    } else if (event.key === "Enter") {
      navigate(marked === undefined ? `/jobs/${row.job}` : `/runs/${row.runs[marked].number}`);
    }
  };
  return (
    <g
      tabIndex={0}
      role="group"
      aria-label={`${row.job}, ${row.runs.length} runs, ${row.coming.length} to come`}
      onKeyDown={move}
      onBlur={() => {
        setMarked(undefined);
        onTip(undefined);
      }}
    >
      <line
        x1={0}
        x2={scale.left + scale.width}
        y1={y + LANE}
        y2={y + LANE}
        stroke={palette.divider}
        strokeWidth="0.6"
      />
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the row itself takes the keys */}
      <text
        x={0}
        y={y + 17}
        fontSize="12.5"
        fill={palette.text.primary}
        cursor="pointer"
        onClick={() => navigate(`/jobs/${row.job}`)}
      >
        {row.job.length > scale.left / 7 ? `${row.job.slice(0, Math.floor(scale.left / 7) - 1)}…` : row.job}
      </text>
      {row.coming.map((at) => {
        const known = foreseen.starts.get(startKey(row.job, at));
        const planned = new Date(at).getTime();
        const start = known?.begins ? new Date(known.begins).getTime() : planned;
        const place = box({ start, end: known?.ends ? new Date(known.ends).getTime() : start + usual });
        const late = foreseen.late.has(startKey(row.job, at));
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: hovering only tells more
          <g
            key={at}
            onMouseEnter={() => onTip({ row, coming: at, known, x: place.x, y: y + LANE })}
            onMouseLeave={() => onTip(undefined)}
          >
            {start > planned && (
              <line
                x1={Math.max(scale.left, x(planned))}
                x2={place.x}
                y1={top + TALL / 2}
                y2={top + TALL / 2}
                stroke={palette.text.secondary}
                strokeDasharray="2 3"
              />
            )}
            <OutcomeShape {...place} y={top} height={TALL} state="coming" />
            {late && <Flag x={place.x + place.width} y={top} colour={palette.outcome.amber} />}
            <rect {...place} y={y} height={LANE} fill="transparent" />
          </g>
        );
      })}
      {row.runs.map((bar, index) => {
        const place = box(placeOf(bar, scale));
        const risky = foreseen.late.has(`run ${bar.number}`);
        return (
          <a
            key={bar.number}
            href={`/runs/${bar.number}`}
            tabIndex={-1}
            aria-label={`run ${bar.number} ${STATE_WORDS[bar.state]}${bar.late ? ", late" : risky ? ", will be late" : ""}`}
            onClick={(event) => {
              event.preventDefault();
              navigate(`/runs/${bar.number}`);
            }}
            onMouseEnter={() => show(bar)}
            onMouseLeave={() => onTip(undefined)}
            color={palette.text.primary}
          >
            <OutcomeShape {...place} y={top} height={TALL} state={bar.state} />
            {(bar.late || risky) && (
              <Flag x={place.x + place.width} y={top} colour={bar.late ? palette.outcome.bad : palette.outcome.amber} />
            )}
            <rect x={place.x - 1} width={place.width + 2} y={y} height={LANE} fill="transparent" />
            {marked === index && (
              <rect
                x={place.x - 3}
                width={place.width + 6}
                y={top - 3}
                height={TALL + 6}
                fill="none"
                stroke={palette.primary.main}
                strokeWidth="2"
              />
            )}
          </a>
        );
      })}
    </g>
  );
}

/** What stands at the end of what is late, or will be. */
function Flag({ x, y, colour }: { x: number; y: number; colour: string }) {
  return (
    <path
      d={`M ${x} ${y - 4} v ${TALL + 4} m 0 ${-TALL - 4} l 7 3 l -7 3`}
      stroke={colour}
      fill={colour}
      strokeWidth="1.4"
    />
  );
}
