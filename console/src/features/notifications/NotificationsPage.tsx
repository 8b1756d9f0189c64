import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Tab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link as RouterLink, useSearchParams } from "react-router";
import { call } from "../../api/client";
import type { Delivery } from "../../api/types";
import { PagedTable } from "../../ui/PagedTable";
import { Time } from "../../ui/Time";
import { RulesPanel } from "../telling/RulesPanel";
import { SayPanel } from "../telling/SayPanel";

const PATH = "/api/v1/deliveries";

const SORTS = {
  madeAt: "made",
  run: "run",
  address: "address",
  subject: "subject",
  state: "state",
  tries: "tries",
};

const STATES = ["waiting", "sent", "failed", "gathered"];

const columns: GridColDef<Delivery>[] = [
  { field: "madeAt", headerName: "Written", width: 140, renderCell: ({ row }) => <Time at={row.madeAt} /> },
  {
    field: "run",
    headerName: "Run",
    width: 80,
    cellClassName: "mono",
    renderCell: ({ row }) =>
      row.run && (
        <Link component={RouterLink} to={`/runs/${row.run}`}>
          {row.run}
        </Link>
      ),
  },
  { field: "address", headerName: "To", flex: 1, minWidth: 180 },
  { field: "subject", headerName: "Subject", flex: 1.5, minWidth: 220 },
  {
    field: "state",
    headerName: "How far",
    width: 190,
    renderCell: ({ row }) =>
      row.state === "gathered" ? (
        `went with ${row.gatheredInto}`
      ) : row.sentAt ? (
        <span>
          sent <Time at={row.sentAt} />
        </span>
      ) : row.nextTryAt ? (
        <span>
          {row.state}, {row.tries > 0 ? "again" : "goes"} <Time at={row.nextTryAt} />
        </span>
      ) : (
        row.state
      ),
  },
  { field: "tries", headerName: "Tries", width: 70, cellClassName: "mono" },
  { field: "lastError", headerName: "What went wrong", flex: 1, minWidth: 150 },
  { field: "again", headerName: "", width: 110, sortable: false, renderCell: ({ row }) => <Again delivery={row} /> },
];

function Again({ delivery }: { delivery: Delivery }) {
  const queries = useQueryClient();
  const again = useMutation({
    mutationFn: () => call("POST", `${PATH}/${delivery.id}/again`, {}),
    onSettled: () => queries.invalidateQueries({ queryKey: ["deliveries"] }),
  });
  if (delivery.state !== "failed" && !(delivery.state === "waiting" && delivery.tries > 0)) return null;
  return (
    <Button disabled={again.isPending} onClick={() => again.mutate()} aria-label={`Send message ${delivery.id} again`}>
      Send again
    </Button>
  );
}

const VIEWS = [
  ["messages", "Messages"],
  ["rules", "Rules"],
  ["mine", "How I am told"],
];

/** Who is told of what, and did it arrive? */
export function NotificationsPage() {
  const [address, setAddress] = useSearchParams();
  const view = address.get("view") ?? "messages";
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 2, mb: 1.5 }}>
        <Typography variant="h1">Notifications</Typography>
        <Tabs value={view} onChange={(_, next) => setAddress(next === "messages" ? {} : { view: next })}>
          {VIEWS.map(([value, label]) => (
            <Tab key={value} value={value} label={label} sx={{ textTransform: "none" }} />
          ))}
        </Tabs>
      </Box>
      {view === "rules" && <RulesPanel />}
      {view === "mine" && <SayPanel />}
      {view === "messages" && (
        <PagedTable<Delivery>
          title="Notifications"
          heading={false}
          path={PATH}
          columns={columns}
          sorts={SORTS}
          filters={[{ name: "state", label: "How far", options: STATES }]}
          empty={{
            title: "There is no message that you may see",
            hint: "Rules say who is told, and jobs by their notify key. Operators of a team see the messages about its jobs here.",
          }}
        />
      )}
      {view !== "messages" && <title>Notifications · Gantrel</title>}
    </>
  );
}
