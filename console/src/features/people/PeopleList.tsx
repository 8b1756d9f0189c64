import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { GridColDef } from "@mui/x-data-grid";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Person } from "../../api/types";
import { useCall } from "../../api/useCall";
import { Ask } from "../../ui/Ask";
import { Asked } from "../../ui/Asked";
import { PlainGrid } from "../../ui/Grid";
import { useMe } from "../../ui/me";
import { Panel } from "../../ui/Panel";
import { PersonDialog } from "./PersonDialog";
import { usePeople, useTeams } from "./usePeople";

/** All accounts, for administrators. */
export function PeopleList() {
  const me = useMe();
  const people = usePeople(true);
  const teams = useTeams();
  const [address] = useSearchParams();
  const [making, setMaking] = useState(false);
  const [password, setPassword] = useState<Person>();
  const [shutting, setShutting] = useState<Person>();
  const shut = useCall("people");
  const of = (name: string) =>
    (teams.data ?? [])
      .filter((team) => team.members[name])
      .map((team) => `${team.members[name]} of ${team.name}`)
      .join(", ");
  const columns: GridColDef<Person>[] = [
    { field: "name", headerName: "Name", width: 160 },
    { field: "fullName", headerName: "Full name", flex: 1, minWidth: 140 },
    {
      field: "teams",
      headerName: "Roles",
      flex: 2,
      minWidth: 200,
      valueGetter: (_, row) => (row.administrator ? "administrator of the installation" : of(row.name) || "in no team"),
    },
    { field: "shut", headerName: "Account", width: 90, valueGetter: (_, row) => (row.shut ? "shut" : "open") },
    {
      field: "deeds",
      headerName: "",
      width: 190,
      renderCell: ({ row }) => (
        <Box sx={{ display: "flex" }}>
          <Button onClick={() => setPassword(row)}>Password</Button>
          {row.name !== me.name && (
            <Button color={row.shut ? "primary" : "error"} onClick={() => setShutting(row)}>
              {row.shut ? "Open" : "Shut"}
            </Button>
          )}
        </Box>
      ),
    },
  ];
  const wanted = address.get("person");
  return (
    <Box sx={{ mt: 3 }}>
      <Panel title="People" bare>
        <Button variant="outlined" sx={{ mb: 1 }} onClick={() => setMaking(true)}>
          New person
        </Button>
        <Asked query={people}>
          {(all) => (
            <PlainGrid
              aria-label="People"
              rows={all.filter((person) => !wanted || person.name === wanted)}
              columns={columns}
              getRowId={(row) => row.name}
            />
          )}
        </Asked>
      </Panel>
      {(making || password) && (
        <PersonDialog
          person={password}
          onClose={() => {
            setMaking(false);
            setPassword(undefined);
          }}
        />
      )}
      {shutting && (
        <Ask
          title={`${shutting.shut ? "Open" : "Shut"} the account of ${shutting.name}?`}
          deed={`${shutting.shut ? "Open" : "Shut"} it`}
          danger={!shutting.shut}
          busy={shut.isPending}
          error={shut.error}
          onClose={() => setShutting(undefined)}
          onYes={() =>
            shut.mutate(
              {
                method: "PUT",
                path: `/api/v1/people/${encodeURIComponent(shutting.name)}/shut`,
                body: { shut: !shutting.shut },
              },
              { onSuccess: () => setShutting(undefined) },
            )
          }
        >
          {shutting.shut
            ? "They can sign in again, with their old roles."
            : "They are signed out everywhere, their tokens end, and they cannot sign in. Their jobs go on."}
        </Ask>
      )}
    </Box>
  );
}
