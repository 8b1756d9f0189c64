import Box from "@mui/material/Box";
import FormControlLabel from "@mui/material/FormControlLabel";
import Link from "@mui/material/Link";
import MenuItem from "@mui/material/MenuItem";
import Paper from "@mui/material/Paper";
import Switch from "@mui/material/Switch";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type ReactNode, useState } from "react";
import { Link as RouterLink, useParams, useSearchParams } from "react-router";
import type { ComparedFact, Comparison, Run, RunDetail } from "../../api/types";
import { MONO } from "../../theme";
import { Asked } from "../../ui/Asked";
import { LongText } from "../../ui/LongText";
import { PageTitle } from "../../ui/PageTitle";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { bytesWords, dayAndClock, durationWords, millis } from "../../ui/times";
import { useBoardZone } from "../../ui/useBoardZone";
import { ComparedLogs } from "./ComparedLogs";
import { useComparison, useOthers } from "./useComparison";
import { useRun } from "./useRun";

/** In what does this run differ from another, and by how much? */
export function ComparisonPage() {
  const { number = "" } = useParams();
  const run = useRun(number);
  return <Asked query={run}>{(found) => <Beside key={found.number} run={found} />}</Asked>;
}

function Beside({ run }: { run: RunDetail }) {
  const [address, setAddress] = useSearchParams();
  const named = address.get("with") ?? "";
  const compared = useComparison(run, named);
  const one = compared.data?.one.number;
  return (
    <>
      <PageTitle
        title={one ? `Run ${one} beside run ${run.number}` : `Run ${run.number} beside another`}
        about={
          <Link component={RouterLink} to={`/jobs/${run.job}`}>
            {run.job}
          </Link>
        }
      >
        <OtherRun
          run={run}
          chosen={one ?? (Number(named) || undefined)}
          onChoose={(other) =>
            setAddress((before) => {
              before.set("with", String(other));
              return before;
            })
          }
        />
      </PageTitle>
      {compared.isError && <Trouble error={compared.error} />}
      {compared.data && <FactTable compared={compared.data} />}
      {compared.data && <ComparedLogs key={one} one={compared.data.one} other={compared.data.other} />}
    </>
  );
}

/** The run that it is compared with: one of the latest of its job. */
function OtherRun({ run, chosen, onChoose }: { run: Run; chosen?: number; onChoose: (number: number) => void }) {
  const zone = useBoardZone();
  const others = useOthers(run);
  const found = (others.data ?? []).filter((other) => other.number !== run.number);
  const known = chosen === undefined || found.some((other) => other.number === chosen);
  return (
    <TextField
      select
      size="small"
      label="compare with"
      value={chosen ?? ""}
      onChange={(event) => onChoose(Number(event.target.value))}
      sx={{ minWidth: { xs: 0, sm: 260 }, maxWidth: "100%" }}
      slotProps={{ inputLabel: { shrink: true } }}
    >
      {!known && <MenuItem value={chosen}>run {chosen}</MenuItem>}
      {found.map((other) => (
        <MenuItem key={other.number} value={other.number}>
          <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", overflow: "hidden" }}>
            <span>{other.number}</span>
            <StateMark state={other.state} />
            <Box component="span" sx={{ color: "text.secondary", fontFamily: MONO, fontSize: "0.86em" }}>
              {dayAndClock(other.plannedAt, zone)}
              {other.took && ` · ${durationWords(millis(other.took))}`}
            </Box>
          </Box>
        </MenuItem>
      ))}
      {found.length === 0 && known && (
        <MenuItem disabled value="">
          there is no other run of {run.job}
        </MenuItem>
      )}
    </TextField>
  );
}

function FactTable({ compared }: { compared: Comparison }) {
  const [all, setAll] = useState(false);
  const shown = compared.facts.filter((fact) => all || !fact.alike);
  const alike = compared.facts.filter((fact) => fact.alike).length;
  return (
    <Paper component="section" aria-label="Both runs" sx={{ p: 1.75, mb: 2, overflowX: "auto" }}>
      <FormControlLabel
        control={<Switch size="small" checked={all} onChange={(event) => setAll(event.target.checked)} />}
        label={`also what is alike (${alike})`}
        sx={{ mb: 1, ml: 0 }}
      />
      {shown.length === 0 ? (
        <Typography>They are alike in all that is compared.</Typography>
      ) : (
        <Table size="small" sx={{ "& td, & th": { verticalAlign: "top" } }}>
          <TableHead>
            <TableRow>
              <TableCell>what</TableCell>
              <Head run={compared.one} />
              <Head run={compared.other} />
              <TableCell>by how much</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {shown.map((fact) => (
              <TableRow key={fact.what}>
                <TableCell component="th" scope="row" sx={{ color: "text.secondary", minWidth: 96 }}>
                  {fact.what}
                </TableCell>
                <Value fact={fact} value={fact.one} />
                <Value fact={fact} value={fact.other} strong={!fact.alike} />
                <TableCell sx={{ whiteSpace: "nowrap" }}>{fact.by}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Paper>
  );
}

function Head({ run }: { run: Run }) {
  return (
    <TableCell>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Link component={RouterLink} to={`/runs/${run.number}`}>
          run {run.number}
        </Link>
        <StateMark state={run.state} word={false} />
      </Box>
    </TableCell>
  );
}

function Value({ fact, value, strong = false }: { fact: ComparedFact; value: string; strong?: boolean }) {
  return (
    <TableCell sx={{ overflowWrap: "anywhere", minWidth: 120, fontWeight: strong ? 600 : undefined }}>
      {value && shown(fact, value)}
    </TableCell>
  );
}

/** A value as people read it. */
function shown(fact: ComparedFact, value: string): ReactNode {
  if (fact.what === "state") return <StateMark state={value} />;
  switch (fact.kind) {
    case "time":
      return <Time at={value} as="seconds" />;
    case "duration":
      return durationWords(millis(value));
    case "bytes":
      return bytesWords(Number(value));
    default:
      return <LongText text={value} />;
  }
}
