import Box from "@mui/material/Box";
import type { Bar, BoardRow, ComingStart } from "../../api/types";
import { MONO } from "../../theme";
import { STATE_WORDS } from "../../ui/outcome";
import { clock, dayAndClock, durationWords, millis, zoneName } from "../../ui/times";

export type Tip = { row: BoardRow; bar?: Bar; coming?: string; known?: ComingStart; x: number; y: number };

const WIDTH = 300;

/** What a bar of the board stands for. */
export function BoardTip({ tip, zone, width }: { tip: Tip; zone: string; width: number }) {
  const { bar, row } = tip;
  const at = bar?.at ?? tip.coming ?? "";
  return (
    <Box
      role="status"
      sx={{
        position: "absolute",
        left: Math.max(0, Math.min(tip.x - 10, width - WIDTH)),
        top: tip.y + 4,
        width: WIDTH,
        zIndex: 5,
        pointerEvents: "none",
        bgcolor: "#1b2530",
        color: "#f3efe6",
        border: "1px solid #4a5763",
        borderRadius: 1.5,
        px: 1.5,
        py: 1,
        fontSize: "0.78rem",
        display: "grid",
        gap: 0.3,
      }}
    >
      <b>
        {row.job} {bar ? `· run ${bar.number}` : "· to come"}
      </b>
      {bar ? <Outcome bar={bar} /> : row.usual && <span>usually takes {durationWords(millis(row.usual))}</span>}
      {tip.known && <Ahead known={tip.known} zone={zone} />}
      {bar?.deadline && (
        <span>
          {bar.late ? "late: " : ""}its deadline {bar.late ? "was" : "is"} {clock(bar.deadline, zone)}
        </span>
      )}
      {bar?.message && bar.state !== "succeeded" && (
        <Box sx={{ fontFamily: MONO, overflowWrap: "anywhere" }}>{bar.message.slice(0, 140)}</Box>
      )}
      <Box sx={{ color: "#b9c0c6", fontFamily: MONO, fontSize: "0.92em" }}>
        {dayAndClock(at, zone)} {zoneName(zone)} · {clock(at, "UTC")} UTC{bar?.actsAs ? ` · as ${bar.actsAs}` : ""}
      </Box>
    </Box>
  );
}

function Outcome({ bar }: { bar: Bar }) {
  const took = bar.start && bar.end ? new Date(bar.end).getTime() - new Date(bar.start).getTime() : undefined;
  return (
    <span>
      {STATE_WORDS[bar.state]}
      {took === undefined ? "" : ` after ${durationWords(took)}`}
    </span>
  );
}

/** What the forecast says of a start. */
function Ahead({ known, zone }: { known: ComingStart; zone: string }) {
  const { skipped, stuck, waits, waitsFor, begins, ends, deadline, late } = known;
  return (
    <>
      {skipped && <span>will be skipped{waitsFor && `: it would wait for ${waitsFor}`}</span>}
      {stuck && <span>{stuck}</span>}
      {waits && !skipped && (
        <span>
          will wait {durationWords(millis(waits))} for {waitsFor}
        </span>
      )}
      {begins && ends && (
        <span>
          from {clock(begins, zone)} until {clock(ends, zone)}
        </span>
      )}
      {deadline && (
        <span>
          its deadline is {clock(deadline, zone)}
          {late && `, to be missed by ${durationWords(millis(late))}`}
        </span>
      )}
    </>
  );
}
