import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { MONO } from "../../theme";
import { Pager } from "../../ui/Pager";
import { Panel } from "../../ui/Panel";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useAsk } from "../../ui/useAsk";
import { useForget, useHandled } from "./useRosters";

/** Which records were handled already, and so are left out; one that is forgotten is handled again. */
export function HandledList({ roster, mayForget }: { roster: string; mayForget: boolean }) {
  const [after, setAfter] = useState(0);
  const handled = useHandled(roster, after);
  const forget = useForget(roster);
  const { ask, question } = useAsk();
  const records = handled.data?.body ?? [];
  const forgetOne = (key: string) => {
    ask({
      title: key ? `Forget that ${key} was handled?` : "Forget all of them?",
      deed: "Forget",
      text: "What is forgotten is handled again with the next sweep.",
      onYes: () => forget.mutate(key),
    });
  };
  return (
    <Panel title="Handled already">
      {question}
      <Trouble error={handled.error ?? forget.error} />
      {records.length === 0 && <Typography color="textSecondary">Nothing is remembered yet.</Typography>}
      {records.map((record) => (
        <Box
          key={record.id}
          sx={{
            display: "flex",
            flexWrap: "wrap",
            gap: 1.5,
            alignItems: "center",
            borderBottom: 1,
            borderColor: "divider",
          }}
        >
          <Box sx={{ fontFamily: MONO, fontSize: "0.82rem", flex: 1, overflowWrap: "anywhere" }}>{record.key}</Box>
          <Typography color="textSecondary">
            by{" "}
            <Link component={RouterLink} to={`/runs/${record.run}`}>
              run {record.run}
            </Link>{" "}
            of {record.job}, <Time at={record.at} />
          </Typography>
          {mayForget && (
            <Button size="small" onClick={() => forgetOne(record.key)}>
              Forget
            </Button>
          )}
        </Box>
      ))}
      {records.length > 0 && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
          <Pager
            after={after}
            last={records[records.length - 1].id}
            more={handled.data?.next !== undefined}
            onMove={setAfter}
          />
          {mayForget && (
            <Button size="small" sx={{ ml: "auto" }} onClick={() => forgetOne("")}>
              Forget all
            </Button>
          )}
        </Box>
      )}
    </Panel>
  );
}
