import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useNavigate, useSearchParams } from "react-router";
import { Coming } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { orderWords } from "../../ui/order";
import { Trouble } from "../../ui/Trouble";
import { Filters } from "./Filters";
import { RUN_COLUMNS, RunTable } from "./RunTable";
import { FILTER_NAMES, type Filter, useHistory } from "./useHistory";

const ROWS = 50;

const SORTS = {
  number: "number",
  state: "state",
  job: "job",
  plannedAt: "planned",
  took: "took",
  cause: "starter",
};

/** What happened? */
export function HistoryPage() {
  const [address, setAddress] = useSearchParams();
  const navigate = useNavigate();
  const filter = Object.fromEntries(FILTER_NAMES.map((name) => [name, address.get(name) ?? ""])) as Filter;
  const runs = useHistory(filter, ROWS);
  const change = (changed: Partial<Filter>) => {
    const next = { ...filter, after: "", ...changed };
    setAddress(Object.fromEntries(Object.entries(next).filter(([, value]) => value !== "")), {
      replace: changed.after === undefined,
    });
  };
  const rows = runs.data?.body ?? [];
  const filtered = Object.entries(filter).some(([name, value]) => name !== "sort" && value !== "");
  const order = { sort: filter.sort, by: SORTS, onSort: (sort: string) => change({ sort }) };
  return (
    <>
      <title>History · Gantrel</title>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        What happened
      </Typography>
      <Filters filter={filter} onChange={change} />
      <Trouble error={runs.error} />
      {runs.isPending && <Coming />}
      {runs.data && rows.length === 0 && (
        <Paper>
          <Empty
            title={filtered ? "No run is like that" : "Nothing has run yet"}
            hint={
              filtered
                ? "Take a filter away, or look further back."
                : "Start a job by hand under Jobs, or wait for a schedule."
            }
          >
            {filtered && <Button onClick={() => setAddress({})}>Take all filters away</Button>}
          </Empty>
        </Paper>
      )}
      {rows.length > 0 && <RunTable runs={rows} order={order} />}
      {rows.length > 0 && (
        <Box sx={{ display: "flex", gap: 1, mt: 1, alignItems: "center" }}>
          <Typography color="textSecondary" variant="body2">
            {rows.length} runs, {orderWords(RUN_COLUMNS, order)}
          </Typography>
          <Button sx={{ ml: "auto" }} disabled={!filter.after} onClick={() => change({ after: "" })}>
            {filter.sort ? "First" : "Newest"}
          </Button>
          <Button disabled={!filter.after} onClick={() => navigate(-1)}>
            Back
          </Button>
          <Button
            variant="outlined"
            disabled={!runs.data?.next}
            onClick={() => change({ after: String(rows[rows.length - 1].number) })}
          >
            {filter.sort ? "Next" : "Older"}
          </Button>
        </Box>
      )}
    </>
  );
}
