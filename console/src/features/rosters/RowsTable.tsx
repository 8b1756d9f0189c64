import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Switch from "@mui/material/Switch";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Roster } from "../../api/types";
import { Pager } from "../../ui/Pager";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { Trouble } from "../../ui/Trouble";
import { LoadRows } from "./LoadRows";
import { useInclude, useRosterRows } from "./useRosters";

/** The rows that are written down, each with its switch and what became of it last. */
export function RowsTable({ roster }: { roster: Roster }) {
  const [after, setAfter] = useState(0);
  const [loading, setLoading] = useState(false);
  const rows = useRosterRows(roster.name, after);
  const include = useInclude(roster.name);
  return (
    <Panel title={`${(roster.rows ?? 0).toLocaleString("en")} rows`}>
      <Trouble error={rows.error ?? include.error} />
      {roster.mayChange && (
        <Button variant="outlined" size="small" sx={{ mb: 1 }} onClick={() => setLoading(true)}>
          Paste or load rows
        </Button>
      )}
      {rows.data?.body.length === 0 && (
        <Typography color="textSecondary">No rows yet. Paste some from a spreadsheet, or load a CSV file.</Typography>
      )}
      {rows.data && rows.data.body.length > 0 && (
        <Box sx={{ overflowX: "auto" }}>
          <Table size="small" aria-label="Rows">
            <TableHead>
              <TableRow>
                {["Row", "In", "Last time", "Run", ...roster.columns].map((heading) => (
                  <TableCell key={heading}>{heading}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.data.body.map((row) => (
                <TableRow key={row.place}>
                  <TableCell>{row.place}</TableCell>
                  <TableCell>
                    <Switch
                      size="small"
                      checked={row.included}
                      disabled={!roster.mayChange || include.isPending}
                      onChange={(_, included) => include.mutate({ place: row.place, included })}
                      slotProps={{ input: { "aria-label": `row ${row.place} is included` } }}
                    />
                  </TableCell>
                  <TableCell>{row.lastState ? <StateMark state={row.lastState} /> : "never run"}</TableCell>
                  <TableCell>
                    {row.lastRun && (
                      <Link component={RouterLink} to={`/runs/${row.lastRun}`}>
                        {row.lastRun}
                      </Link>
                    )}
                  </TableCell>
                  {roster.columns.map((column) => (
                    <TableCell key={column}>{row.values[column] ?? ""}</TableCell>
                  ))}
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Box>
      )}
      <Pager
        after={after}
        last={rows.data?.body.at(-1)?.place}
        more={rows.data?.next !== undefined}
        onMove={setAfter}
      />
      {loading && <LoadRows roster={roster} onClose={() => setLoading(false)} />}
    </Panel>
  );
}
