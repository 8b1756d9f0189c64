import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { GridColDef } from "@mui/x-data-grid";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { ComingStart, Forecast } from "../../api/types";
import { Asked } from "../../ui/Asked";
import { Choice } from "../../ui/Choice";
import { durationColumn } from "../../ui/durationColumn";
import { Empty } from "../../ui/Empty";
import { Grid } from "../../ui/Grid";
import { LazyField } from "../../ui/LazyField";
import { useMe } from "../../ui/me";
import { PageTitle } from "../../ui/PageTitle";
import { Time } from "../../ui/Time";
import { dayAndClock, millis } from "../../ui/times";
import { useBoardZone } from "../../ui/useBoardZone";
import { StartsByHour } from "./StartsByHour";
import { compared } from "./supposing";
import { useForecast } from "./useForecast";
import { WhatIf } from "./WhatIf";

const SPANS: Record<string, number> = { "6 h": 6, "24 h": 24, "3 days": 72, "7 days": 168 };

const idOf = (start: ComingStart) => `${start.job}/${start.schedule}/${start.at}`;

const length = durationColumn<ComingStart>(
  (row) => row.waits,
  (row) => row.waitsFor,
);

/** For how long and what; of what nobody knows the end of, what keeps it. */
const waitsColumn: typeof length = {
  ...length,
  valueGetter: (value, row, column, grid) =>
    row.stuck ? Number.MAX_SAFE_INTEGER : length.valueGetter?.(value, row, column, grid),
  valueFormatter: (value, row, column, grid) =>
    row.stuck ?? (row.skipped ? row.waitsFor : length.valueFormatter?.(value, row, column, grid)) ?? "",
};

const columns: GridColDef<ComingStart>[] = [
  { field: "job", headerName: "Job", flex: 1, minWidth: 160 },
  { field: "at", headerName: "Planned", width: 138, renderCell: ({ row }) => <Time at={row.at} zone={row.zone} /> },
  {
    field: "begins",
    headerName: "Begins",
    width: 138,
    renderCell: ({ row }) =>
      row.skipped ? "is skipped" : row.stuck && !row.begins ? "nobody knows" : <Time at={row.begins} zone={row.zone} />,
  },
  {
    field: "ends",
    headerName: "Ends",
    width: 138,
    renderCell: ({ row }) => (row.stuck ? "nobody knows" : <Time at={row.ends} zone={row.zone} />),
  },
  { field: "team", headerName: "Team", width: 90 },
  { field: "schedule", headerName: "Schedule", width: 100 },
  {
    field: "waits",
    headerName: "Waits",
    flex: 3,
    minWidth: 190,
    ...waitsColumn,
  },
  {
    field: "late",
    headerName: "Late by",
    width: 80,
    ...durationColumn<ComingStart>((row) => row.late),
  },
];

/** Behind the ends. */
const COMPARED_AT = 4;

/** By how much what is supposed moves an end. */
const movedColumn = (by: ReturnType<typeof compared>): GridColDef<ComingStart> => ({
  field: "moved",
  headerName: "Compared",
  width: 170,
  valueGetter: (_, row) => by.shift(row) ?? null,
  valueFormatter: (_, row) => by.words(row),
});

/** What will start, when will it end, and what will be late? */
export function AheadPage() {
  const me = useMe();
  const zone = useBoardZone();
  const [address, setAddress] = useSearchParams();
  const span = address.get("span") ?? "24 h";
  const team = address.get("team") ?? "";
  const job = address.get("job") ?? "";
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(address);
    if (value) next.set(name, value);
    else next.delete(name);
    setAddress(next, { replace: true });
  };
  const supposed = address.getAll("suppose");
  const suppose = (all: string[]) => {
    const next = new URLSearchParams(address);
    next.delete("suppose");
    for (const each of all) next.append("suppose", each);
    setAddress(next, { replace: true });
  };
  const [asks, setAsks] = useState(supposed.length > 0);
  const hours = SPANS[span] ?? 24;
  const asItIs = useForecast(hours, team, job, []);
  const then = useForecast(hours, team, job, supposed, supposed.length > 0);
  const isSupposed = supposed.length > 0 && !then.error;
  const moved = address.get("moved") === "yes";
  const by = isSupposed && then.data && asItIs.data ? compared(then.data, asItIs.data) : undefined;
  return (
    <>
      <PageTitle title="What is coming" />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 1.5 }}>
        <Choice label="Span" value={span} options={Object.keys(SPANS)} onChange={(value) => set("span", value)} />
        <Choice
          label="Team"
          value={team}
          options={["", ...Object.keys(me.teams)]}
          none="all teams"
          onChange={(value) => set("team", value)}
        />
        <LazyField label="Only this job" value={job} onCommit={(value) => set("job", value.trim())} />
        <Button aria-expanded={asks} onClick={() => setAsks(!asks)}>
          What if
        </Button>
      </Box>
      {asks && <WhatIf supposed={supposed} error={then.error} onChange={suppose} />}
      <Asked query={isSupposed ? then : asItIs}>
        {(found) => (
          <>
            <Box role="status" sx={{ mb: 1 }}>
              {sentence(found, zone)} {by && `${by.sentence()}.`}
              {by && (
                <Button sx={{ ml: 1 }} aria-pressed={moved} onClick={() => set("moved", moved ? "" : "yes")}>
                  {moved ? "Show all" : "Only what is different"}
                </Button>
              )}
            </Box>
            {found.starts.length === 0 ? (
              <Empty
                title="Nothing starts by itself in that time"
                hint="Choose a longer span, or take a filter away."
              />
            ) : (
              <>
                <StartsByHour starts={found.starts} from={found.from} until={found.until} />
                <Grid
                  label="Coming starts"
                  rows={by && moved ? found.starts.filter((start) => by.words(start) !== "") : found.starts}
                  columns={
                    by ? [...columns.slice(0, COMPARED_AT), movedColumn(by), ...columns.slice(COMPARED_AT)] : columns
                  }
                  idOf={idOf}
                  addressOf={(row) => `/jobs/${row.job}`}
                />
              </>
            )}
          </>
        )}
      </Asked>
    </>
  );
}

function sentence({ starts, cut, playedUntil }: Forecast, zone: string): string {
  const stuck = starts.filter((start) => start.stuck).length;
  const late = starts.filter(
    (start) => (start.late && millis(start.late) > 0) || (start.stuck && start.deadline),
  ).length;
  const waiting = starts.filter((start) => start.waits && millis(start.waits) > 0).length;
  const many = starts.length === 1 ? "1 start" : `${starts.length.toLocaleString("en")} starts`;
  const more = cut ? ` and more after ${dayAndClock(starts[starts.length - 1].at, zone)}` : "";
  const played = playedUntil
    ? ` Who waits for whom is worked out until ${dayAndClock(playedUntil, zone)}; later starts are shown as if nothing were in their way.`
    : "";
  return `${many}${more}; ${waiting} will have to wait, ${late} will be late${
    stuck ? `, ${stuck} will wait and nothing says until when` : ""
  }.${played}`;
}
