import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import { type RefObject, useEffect, useRef, useState } from "react";
import type { Board as BoardData, BoardRow } from "../../api/types";
import { MONO } from "../../theme";
import { OutcomeDefinitions } from "../../ui/outcome";
import { clock } from "../../ui/times";
import { BoardLane } from "./BoardLane";
import { BoardTip, type Tip } from "./BoardTip";
import { ticks } from "./ticks";
import type { Foreseen } from "./useToday";

export const LANE = 26;
const HEAD = 24;
const AXIS = 26;

export type Scale = { from: number; until: number; left: number; width: number; now: number; zone: string };

/** A time axis across, a row a job, grouped by team; now is a line, what is to come are outlines. */
export function Board({
  board,
  foreseen,
  zone,
  now,
  from,
  until,
}: {
  board: BoardData;
  foreseen: Foreseen;
  zone: string;
  now: number;
  from: number;
  until: number;
}) {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const [tip, setTip] = useState<Tip>();
  const { palette } = useTheme();
  useEffect(() => {
    if (!frame.current) return;
    const observer = new ResizeObserver(([entry]) => setWidth(entry.contentRect.width));
    observer.observe(frame.current);
    return () => observer.disconnect();
  }, []);
  const left = width < 560 ? 118 : 150;
  const scale: Scale = { from, until, left, width: Math.max(50, width - left - 22), now, zone };
  const [above, below] = useBand(frame, board.rows.length > MANY);
  const x = (at: number) => left + ((at - from) / (until - from)) * scale.width;
  const teams = Object.entries(Object.groupBy(board.rows, (row) => row.team)) as [string, BoardRow[]][];
  const height = AXIS + board.rows.length * LANE + teams.length * HEAD + 6;
  let y = AXIS;
  const laidOut = teams.map(([team, rows]) => {
    const top = y;
    y += HEAD + rows.length * LANE;
    return { team, rows, top };
  });
  return (
    <Box ref={frame} sx={{ position: "relative", overflowX: "clip", overflowY: "visible" }}>
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label="Runs by job over time" fontFamily="inherit">
          <OutcomeDefinitions />
          {ticks(from, until, zone, scale.width).map((tick) => (
            <g key={tick.at}>
              <line x1={x(tick.at)} x2={x(tick.at)} y1={AXIS - 6} y2={height} stroke={palette.divider} />
              <text
                x={x(tick.at)}
                y={13}
                textAnchor="middle"
                fontSize="11"
                fontFamily={MONO}
                fill={palette.text.secondary}
              >
                {Math.abs(x(tick.at) - x(now)) < BESIDE_NOW ? "" : tick.text}
              </text>
            </g>
          ))}
          {laidOut.map(({ team, rows, top }) => (
            <g key={team}>
              <text
                x={0}
                y={top + 15}
                fontSize="10.5"
                fontWeight="700"
                letterSpacing="0.1em"
                fill={palette.text.secondary}
              >
                {team.toUpperCase()}
              </text>
              {rows.map((row, index) => {
                const y = top + HEAD - 4 + index * LANE;
                return (
                  y > above &&
                  y < below && (
                    <BoardLane key={row.job} row={row} foreseen={foreseen} y={y} scale={scale} onTip={setTip} />
                  )
                );
              })}
            </g>
          ))}
          {now >= from && now <= until && <NowLine x={x(now)} height={height} text={clock(now, zone)} />}
        </svg>
      )}
      {tip && <BoardTip tip={tip} zone={zone} width={width} />}
    </Box>
  );
}

/** Of more rows only those in and near the view are drawn. */
const MANY = 60;
const NEAR = 700;

/** The part of a drawing that is in view, with some above and below, in its own coordinates. */
function useBand(frame: RefObject<HTMLDivElement | null>, on: boolean): [number, number] {
  const [band, setBand] = useState<[number, number]>([Number.NEGATIVE_INFINITY, 2 * NEAR]);
  useEffect(() => {
    if (!on) return;
    const look = () => {
      const top = frame.current?.getBoundingClientRect().top ?? 0;
      const above = Math.floor((-top - NEAR) / 200) * 200;
      setBand((was) => (was[0] === above ? was : [above, above + window.innerHeight + 2 * NEAR + 200]));
    };
    look();
    window.addEventListener("scroll", look, { passive: true });
    window.addEventListener("resize", look);
    return () => {
      window.removeEventListener("scroll", look);
      window.removeEventListener("resize", look);
    };
  }, [on, frame]);
  return on ? band : [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
}

/** The label of now covers those that are nearer than this. */
const BESIDE_NOW = 40;

function NowLine({ x, height, text }: { x: number; height: number; text: string }) {
  const { palette } = useTheme();
  return (
    <g pointerEvents="none">
      <line x1={x} x2={x} y1={8} y2={height} stroke={palette.primary.main} strokeWidth="1.6" />
      <rect x={x - 21} y={0} width={42} height={18} rx={3} fill={palette.primary.main} />
      <text
        x={x}
        y={13}
        textAnchor="middle"
        fontSize="11"
        fontWeight="650"
        fontFamily={MONO}
        fill={palette.primary.contrastText}
      >
        {text}
      </text>
    </g>
  );
}
