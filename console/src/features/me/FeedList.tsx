import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { get } from "../../api/client";
import type { Feed } from "../../api/types";
import { useCall } from "../../api/useCall";
import { MONO } from "../../theme";
import { Asked } from "../../ui/Asked";
import { Choice } from "../../ui/Choice";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";

/** Addresses under which calendar programs read what is to start. */
export function FeedList() {
  const me = useMe();
  const feeds = useQuery({ queryKey: ["feeds"], queryFn: () => get<Feed[]>("/api/v1/feeds") });
  const make = useCall<Feed>("feeds");
  const drop = useCall("feeds");
  const [job, setJob] = useState("");
  const [team, setTeam] = useState("");
  return (
    <>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        Coming starts in your own calendar. Whoever has the address may read it.
      </Typography>
      <Asked query={feeds}>
        {(all) => (
          <Box component="ul" aria-label="Feeds" sx={{ m: 0, p: 0, listStyle: "none" }}>
            {all.map((feed) => (
              <Box key={feed.id} component="li" sx={{ display: "flex", gap: 1, alignItems: "center", py: 0.25 }}>
                <Box sx={{ flex: 1, minWidth: 0 }}>
                  {feed.job ?? feed.team ?? "all that I may see"}
                  {feed.address && (
                    <Box sx={{ fontFamily: MONO, fontSize: "0.75rem", overflowWrap: "anywhere", userSelect: "all" }}>
                      {feed.address}
                    </Box>
                  )}
                </Box>
                <Button
                  color="error"
                  aria-label={`Remove the feed of ${feed.job ?? feed.team ?? "everything"}`}
                  onClick={() => drop.mutate({ method: "DELETE", path: `/api/v1/feeds/${feed.id}` })}
                >
                  Remove
                </Button>
              </Box>
            ))}
            {all.length === 0 && <Box component="li">You have none.</Box>}
          </Box>
        )}
      </Asked>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1.5 }}>
        <Choice
          label="Team"
          value={team}
          options={["", ...Object.keys(me.teams)]}
          none="all teams"
          onChange={setTeam}
        />
        <TextField
          label="Only this job"
          value={job}
          onChange={(event) => setJob(event.target.value)}
          sx={{ flex: 1 }}
        />
        <Button
          variant="outlined"
          disabled={make.isPending}
          onClick={() =>
            make.mutate({
              method: "POST",
              path: "/api/v1/feeds",
              body: { job: job.trim() || undefined, team: job.trim() ? undefined : team || undefined },
            })
          }
        >
          Make a feed
        </Button>
      </Box>
      <Trouble error={make.error ?? drop.error} />
    </>
  );
}
