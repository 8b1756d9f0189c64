import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Panel } from "../../ui/Panel";

/** How the machine that does the work tells of it: one call each for its start, how far it is, and its end. */
export function OutsideCalls({ job }: { job: string }) {
  const base = `${window.location.origin}/api/v1/outside/${job}`;
  const call = (what: string, body: string) =>
    `curl -X POST ${base}/${what} -H "Authorization: Bearer $TOKEN" -H 'Content-Type: application/json' -d '${body}'`;
  return (
    <Panel title="Told from outside">
      <Typography color="textSecondary">
        Another machine does the work and tells of it, with the token of somebody who may start the job. A run whose
        start nobody tells in time is missed.
      </Typography>
      <Box
        component="pre"
        tabIndex={0}
        sx={{ m: 0, fontSize: "0.8rem", whiteSpace: "pre-wrap", overflowWrap: "anywhere" }}
      >
        {[
          `gantrel beat ${job} -- COMMAND ...`,
          call("start", "{}"),
          call("progress", '{"share": 0.4, "text": "4 of 10"}'),
          call("end", '{"exitCode": 0}'),
        ].join("\n")}
      </Box>
    </Panel>
  );
}
