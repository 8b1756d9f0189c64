import Box from "@mui/material/Box";
import { useState } from "react";
import type { Run } from "../../api/types";
import { Choice } from "../../ui/Choice";
import { Panel } from "../../ui/Panel";
import { RunBars } from "./RunBars";
import { comparable, numberOf } from "./runValues";

/** What the latest runs gave, as far as it is numbers; nothing where they gave none. */
export function ValueTrend({ runs }: { runs: Run[] }) {
  const names = comparable(runs);
  const [wanted, setWanted] = useState("");
  if (names.length === 0) return null;
  const name = names.includes(wanted) ? wanted : names[0];
  return (
    <Panel title="What it gives">
      {names.length > 1 && (
        <Box sx={{ mb: 1 }}>
          <Choice label="Value" value={name} options={names} onChange={setWanted} />
        </Box>
      )}
      <RunBars
        runs={runs.filter((run) => numberOf(run, name) !== undefined)}
        unit={name}
        of={(run) => numberOf(run, name) ?? 0}
        words={(part) => part.toLocaleString("en")}
      />
    </Panel>
  );
}
