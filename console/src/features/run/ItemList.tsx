import Box from "@mui/material/Box";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useState } from "react";
import type { RunDetail } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { Trouble } from "../../ui/Trouble";
import { Sparkline } from "./Sparkline";
import { useItemHistory, useItems } from "./useRun";

/** The named results inside a run; those that failed alone, where that is wanted. */
export function ItemList({ run }: { run: RunDetail }) {
  const [onlyFailed, setOnlyFailed] = useState(false);
  const items = useItems(run, onlyFailed ? "failed" : "");
  const history = useItemHistory(run);
  return (
    <Panel title={`Items: ${run.items - run.failedItems} of ${run.items} fine`}>
      {run.failedItems > 0 && (
        <FormControlLabel
          control={<Switch size="small" checked={onlyFailed} onChange={(_, on) => setOnlyFailed(on)} />}
          label="only those that failed"
        />
      )}
      <Trouble error={items.error} />
      {items.data?.map((item) => (
        <Box
          key={item.id}
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "1fr", md: "130px minmax(0, 1fr) minmax(0, 1.4fr) auto" },
            alignItems: "center",
            gap: 1,
            py: 0.75,
            borderTop: 1,
            borderColor: "divider",
            fontSize: "0.86rem",
            overflowWrap: "anywhere",
          }}
        >
          <StateMark state={item.state} />
          <b>{item.name}</b>
          <span>{item.seen}</span>
          <Sparkline name={item.name} past={history.data?.[item.name] ?? []} />
        </Box>
      ))}
    </Panel>
  );
}
