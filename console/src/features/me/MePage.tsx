import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useMe } from "../../ui/me";
import { PageTitle } from "../../ui/PageTitle";
import { Panel } from "../../ui/Panel";
import { SayPanel } from "../telling/SayPanel";
import { FeedList } from "./FeedList";
import { FormatChoice } from "./FormatChoice";
import { PasswordForm } from "./PasswordForm";
import { TokenList } from "./TokenList";

/** Who am I here, what may I do, and how do I like things? */
export function MePage() {
  const me = useMe();
  const teams = Object.entries(me.teams);
  return (
    <>
      <PageTitle
        title="My profile"
        about={me.fullName && me.fullName !== me.name ? `${me.fullName} (${me.name})` : me.name}
      />
      <Box
        sx={{
          display: "grid",
          gap: 2,
          gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 440px), 1fr))",
          alignItems: "start",
        }}
      >
        <SayPanel />
        <Panel title="Password">
          <PasswordForm />
        </Panel>
        <Panel title="Dates and times">
          <FormatChoice />
        </Panel>
        <Panel title="Tokens">
          <TokenList />
        </Panel>
        <Panel title="Calendar feeds">
          <FeedList />
        </Panel>
        <Panel title="What I may do">
          {me.administrator && <Typography>You are an administrator: everything, in all teams.</Typography>}
          {teams.map(([team, deeds]) => (
            <Box key={team} sx={{ py: 0.5, fontSize: "0.88rem" }}>
              <b>{team}</b>: {deeds.map((deed) => deed.replaceAll("-", " ")).join(", ")}
            </Box>
          ))}
          {teams.length === 0 && !me.administrator && <Typography>You are in no team yet.</Typography>}
        </Panel>
      </Box>
    </>
  );
}
