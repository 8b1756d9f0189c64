import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import { withQuery } from "../../api/client";
import type { RunDetail } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { useOutputs } from "./useRun";

/** The files that a run left behind. */
export function OutputList({ run }: { run: RunDetail }) {
  const outputs = useOutputs(run);
  if (!outputs.data || outputs.data.length === 0) return null;
  return (
    <Panel title="Outputs">
      {outputs.data.map(({ name, bytes }) => (
        <Box key={name} sx={{ display: "flex", gap: 2, py: 0.5, fontSize: "0.86rem" }}>
          <Link
            href={withQuery(`/api/v1/runs/${run.number}/outputs/file`, { name })}
            download
            sx={{ overflowWrap: "anywhere" }}
          >
            {name}
          </Link>
          <Box component="span" sx={{ color: "text.secondary", whiteSpace: "nowrap" }}>
            {bytes.toLocaleString("en")} bytes
          </Box>
        </Box>
      ))}
    </Panel>
  );
}
