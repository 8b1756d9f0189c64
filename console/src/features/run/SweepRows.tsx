import Box from "@mui/material/Box";
import Chip from "@mui/material/Chip";
import LinearProgress from "@mui/material/LinearProgress";
import Link from "@mui/material/Link";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { RunDetail, SweepRow } from "../../api/types";
import { MONO } from "../../theme";
import { Coming } from "../../ui/Asked";
import { Pager } from "../../ui/Pager";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { Trouble } from "../../ui/Trouble";
import { useSweep, useSweepRows } from "./useRun";

/** What a row is called that has no run of its own yet. */
const WORDS: Record<string, string> = { started: "running", "left-out": "skipped", "not-reached": "skipped" };

/** The rows of a sweep: how many are how far, and each with what became of it. */
export function SweepRows({ run }: { run: RunDetail }) {
  const [state, setState] = useState("");
  const [after, setAfter] = useState(0);
  const sweep = useSweep(run);
  const rows = useSweepRows(run, state, after);
  const counts = Object.entries(sweep.data?.counts ?? {});
  const total = sweep.data?.total ?? 0;
  const open = (sweep.data?.counts.pending ?? 0) + (sweep.data?.counts.started ?? 0);
  const choose = (next: string) => {
    setState(next === state ? "" : next);
    setAfter(0);
  };
  return (
    <Panel title={sweep.data ? `${total.toLocaleString("en")} rows of ${sweep.data.roster}` : "Rows"}>
      {sweep.isPending && <Coming lines={3} />}
      <Trouble error={sweep.error ?? rows.error} />
      {run.state === "running" && (
        <LinearProgress
          aria-label="rows that have ended"
          variant={sweep.data?.drawn ? "determinate" : "indeterminate"}
          value={total > 0 ? (100 * (total - open)) / total : 0}
          sx={{ mb: 1.5 }}
        />
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 1 }}>
        {counts.map(([word, count]) => (
          <Chip
            key={word}
            size="small"
            label={`${count.toLocaleString("en")} ${word.replace("-", " ")}`}
            color={word === state ? "primary" : "default"}
            onClick={() => choose(word)}
          />
        ))}
      </Box>
      {rows.data?.body.map((row) => (
        <Row key={row.place} row={row} />
      ))}
      {(after > 0 || rows.data?.next !== undefined) && (
        <Pager
          after={after}
          last={rows.data?.body.at(-1)?.place}
          more={rows.data?.next !== undefined}
          onMove={setAfter}
        />
      )}
    </Panel>
  );
}

function Row({ row }: { row: SweepRow }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "40px 1fr", md: "48px 150px 90px minmax(0, 1fr) minmax(0, 1fr)" },
        gap: 1,
        py: 0.6,
        borderTop: 1,
        borderColor: "divider",
        fontSize: "0.86rem",
        alignItems: "baseline",
        overflowWrap: "anywhere",
        // on a phone all but the place stand one below the other
        "& > * + *": { gridColumn: { xs: 2, md: "auto" } },
      }}
    >
      <Box component="span" sx={{ color: "text.secondary" }}>
        {row.place}
      </Box>
      <StateMark state={row.waitsFor ? "waiting" : (WORDS[row.state] ?? row.state)} />
      <span>
        {row.run && (
          <Link component={RouterLink} to={`/runs/${row.run}`}>
            run {row.run}
          </Link>
        )}
      </span>
      <Box sx={{ fontFamily: MONO, fontSize: "0.8rem" }}>{Object.values(row.values).join("  ")}</Box>
      <Box sx={{ color: "text.secondary" }}>{row.waitsFor ? `waits for ${row.waitsFor}` : row.message}</Box>
    </Box>
  );
}
