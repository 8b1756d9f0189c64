import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { useSearchParams } from "react-router";
import type { Deadline } from "../../api/types";
import { Empty } from "../../ui/Empty";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useNow } from "../../ui/useNow";
import { Board } from "./Board";
import { useBoard, useForeseen } from "./useToday";

const HOUR = 3_600_000;
const ZOOMS = { "3 h": 3 * HOUR, "12 h": 12 * HOUR, "24 h": 24 * HOUR, "7 days": 168 * HOUR };
type Zoom = keyof typeof ZOOMS;

type Day = { from: number; until: number };

/** The span to show: the day itself for 24 h, with its night where that counts; otherwise now a little left of the middle. */
function spanOf(zoom: Zoom, day: Day, now: number, moved: number): [number, number] {
  const length = ZOOMS[zoom];
  if (zoom === "24 h") {
    const from = Math.floor(day.from / HOUR) * HOUR;
    return moved === 0 ? [from, day.until] : [day.until - length + moved * length, day.until + moved * length];
  }
  const step = zoom === "7 days" ? 24 * HOUR : HOUR;
  const from = Math.floor((now - length * 0.6) / step) * step + moved * length;
  return [from, from + length];
}

/** The ribbon board with its zoom. */
export function BoardPanel({
  zone,
  from,
  until,
  deadlines,
}: {
  zone: string;
  from: string;
  until: string;
  deadlines: Deadline[];
}) {
  // in the address, so that going back shows what was shown
  const [address, setAddress] = useSearchParams();
  const asked = address.get("zoom") ?? "24 h";
  const zoom: Zoom = asked in ZOOMS ? (asked as Zoom) : "24 h";
  const moved = Math.trunc(Number(address.get("moved") ?? 0)) || 0;
  const show = (next: Zoom, by: number) =>
    setAddress(
      (before) => {
        before.set("zoom", next);
        before.set("moved", String(by));
        if (next === "24 h") before.delete("zoom");
        if (by === 0) before.delete("moved");
        return before;
      },
      { replace: true, preventScrollReset: true },
    );
  const now = useNow(30_000);
  const day = { from: new Date(from).getTime(), until: new Date(until).getTime() };
  const [start, end] = spanOf(zoom, day, now, moved);
  const board = useBoard(start, end);
  const coming = (board.data?.rows ?? []).reduce((sum, row) => sum + row.coming.length, 0);
  const foreseen = useForeseen(end, coming, deadlines);
  return (
    <Paper component="section" aria-label="The ribbon board" sx={{ p: { xs: 1, md: 1.75 } }}>
      <Box sx={{ display: "flex", alignItems: "center", flexWrap: "wrap", gap: 1, mb: 0.5 }}>
        <Typography variant="h2">{zoom === "24 h" && moved === 0 ? "The day" : "The board"}</Typography>
        {board.data?.cut && (
          <Typography sx={{ color: "warning.main" }}>only the latest 5,000 runs of this span are drawn</Typography>
        )}
        {board.data?.comingUntil && (
          <Typography sx={{ color: "warning.main" }}>
            more starts are to come than are drawn: those from <Time at={board.data.comingUntil} zone={zone} /> on are
            not
          </Typography>
        )}
        <Box sx={{ ml: "auto", display: "flex", gap: 0.5, alignItems: "center" }}>
          <Button onClick={() => show(zoom, moved - 1)} aria-label="Earlier" sx={{ minWidth: 32 }}>
            ‹
          </Button>
          <Button onClick={() => show(zoom, 0)} disabled={moved === 0}>
            now
          </Button>
          <Button onClick={() => show(zoom, moved + 1)} aria-label="Later" sx={{ minWidth: 32 }}>
            ›
          </Button>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={zoom}
            aria-label="Zoom"
            onChange={(_, next: Zoom | null) => {
              if (next) show(next, 0);
            }}
          >
            {Object.keys(ZOOMS).map((name) => (
              <ToggleButton key={name} value={name} sx={{ py: 0.25, px: 1.2, border: 0, textTransform: "none" }}>
                {name}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </Box>
      </Box>
      <Trouble error={board.error} />
      {board.data && board.data.rows.length === 0 && (
        <Empty
          title="Nothing ran here and nothing is planned"
          hint="Bring a job in with 'gantrel import FILE', or make one under Jobs."
        />
      )}
      {board.data && board.data.rows.length > 0 && (
        <Board board={board.data} foreseen={foreseen} zone={zone} now={now} from={start} until={end} />
      )}
    </Paper>
  );
}
