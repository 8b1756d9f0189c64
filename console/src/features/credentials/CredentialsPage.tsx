import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Credential } from "../../api/types";
import { MONO } from "../../theme";
import { Coming } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { useMe } from "../../ui/me";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { KeepDialog } from "./KeepDialog";
import { RotateDialog } from "./RotateDialog";
import { useCredentials, useTryCredential } from "./useCredentials";

/** Which identities do runs act as, which jobs use them, and do they still work? */
export function CredentialsPage() {
  const me = useMe();
  const credentials = useCredentials();
  const [making, setMaking] = useState(false);
  const mayKeep = Object.values(me.teams).some((deeds) => deeds.includes("keep-credentials"));
  return (
    <>
      <title>Credentials · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Credentials
        </Typography>
        {mayKeep && (
          <Button variant="contained" onClick={() => setMaking(true)}>
            New credential
          </Button>
        )}
      </Box>
      <Trouble error={credentials.error} />
      {credentials.isPending && <Coming />}
      {credentials.data?.length === 0 && (
        <Paper>
          <Empty
            title="There is no credential that you may know of"
            hint="A credential is an identity that runs act as. Managers of a team keep its credentials."
          />
        </Paper>
      )}
      <Box sx={{ display: "grid", gap: 1.5 }}>
        {credentials.data?.map((credential) => (
          <Card key={credential.name} credential={credential} />
        ))}
      </Box>
      {making && <KeepDialog onClose={() => setMaking(false)} />}
    </>
  );
}

function Card({ credential }: { credential: Credential }) {
  const attempt = useTryCredential();
  const [rotating, setRotating] = useState(false);
  const [changing, setChanging] = useState(false);
  const { name, kind, team, about, facts, usedBy, drawnBy, warning, usedAt, teams } = credential;
  return (
    <Paper component="section" aria-label={name} sx={{ p: 1.75, minWidth: 0, overflowWrap: "anywhere" }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1 }}>
        <Typography variant="h2">{name}</Typography>
        <Typography color="textSecondary" sx={{ flex: "1 1 14rem" }}>
          {kind} of {team}
          {teams.length > 0 && `, also for ${teams.join(" and ")}`}
        </Typography>
        <Button size="small" onClick={() => attempt.mutate(name)} disabled={attempt.isPending}>
          Test
        </Button>
        {credential.mayChange && (
          <Button size="small" onClick={() => setChanging(true)}>
            Change
          </Button>
        )}
        {credential.mayChange && credential.keeps.length > 0 && (
          <Button size="small" onClick={() => setRotating(true)}>
            Rotate
          </Button>
        )}
      </Box>
      <Typography>{about}</Typography>
      {warning && <Typography color="warning">{warning}</Typography>}
      <Box sx={{ fontFamily: MONO, fontSize: "0.8rem", my: 0.5 }}>
        {Object.entries(facts)
          .map(([fact, value]) => `${fact}: ${value}`)
          .join("   ")}
      </Box>
      <Typography color="textSecondary" sx={{ fontSize: "0.86rem" }}>
        Used by {usedBy.length === 0 && "no job"}
        {usedBy.map((job, index) => (
          <span key={job}>
            {index > 0 && ", "}
            <Link component={RouterLink} to={`/jobs/${job}`}>
              {job}
            </Link>
          </span>
        ))}
        {drawnBy.map((roster, index) => (
          <span key={roster}>
            {index === 0 ? "; draws the rows of " : ", "}
            <Link component={RouterLink} to={`/rosters/${roster}`}>
              {roster}
            </Link>
          </span>
        ))}
        {usedAt && (
          <>
            ; last <Time at={usedAt} />
          </>
        )}
      </Typography>
      <Trouble error={attempt.error} />
      {attempt.data && (
        <Typography role="status" color={attempt.data.works ? "textPrimary" : "error"} sx={{ mt: 0.5 }}>
          {attempt.data.works ? "It works: " : "It does not work: "}
          {attempt.data.said}
        </Typography>
      )}
      {changing && <KeepDialog credential={credential} onClose={() => setChanging(false)} />}
      {rotating && <RotateDialog credential={credential} onClose={() => setRotating(false)} />}
    </Paper>
  );
}
