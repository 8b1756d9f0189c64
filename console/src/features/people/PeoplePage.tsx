import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { Asked } from "../../ui/Asked";
import { useMe } from "../../ui/me";
import { PageTitle } from "../../ui/PageTitle";
import { NewTeamDialog } from "./NewTeamDialog";
import { PeopleList } from "./PeopleList";
import { TeamCard } from "./TeamCard";
import { useTeams } from "./usePeople";

/** Who is in which team, and what may they do? */
export function PeoplePage() {
  const teams = useTeams();
  const me = useMe();
  const [address] = useSearchParams();
  const [making, setMaking] = useState(false);
  const wanted = address.get("team");
  return (
    <>
      <PageTitle title="People and teams">
        {me.administrator && (
          <Button variant="outlined" onClick={() => setMaking(true)}>
            New team
          </Button>
        )}
      </PageTitle>
      <Typography color="textSecondary" sx={{ mb: 2, maxWidth: 820 }}>
        A viewer sees a team's work; an operator starts, stops and sees to it too; an editor changes its jobs as well; a
        manager also keeps its credentials and members.
      </Typography>
      <Asked query={teams}>
        {(all) => (
          <Box
            sx={{ display: "grid", gap: 2, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 420px), 1fr))" }}
          >
            {all
              .filter((team) => !wanted || team.name === wanted)
              .map((team) => (
                <TeamCard key={team.name} team={team} />
              ))}
            {all.length === 0 && (
              <Typography>You are in no team yet. A manager or an administrator adds you.</Typography>
            )}
          </Box>
        )}
      </Asked>
      {me.administrator && <PeopleList />}
      {making && <NewTeamDialog onClose={() => setMaking(false)} />}
    </>
  );
}
