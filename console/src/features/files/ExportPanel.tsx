import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { get, getAll } from "../../api/client";
import { Choice } from "../../ui/Choice";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";

/** What has definitions, in the order in which they can be brought in again. */
const NOUNS = ["calendars", "lanes", "rosters", "tellings", "jobs"];

type Named = { name: string; team: string; kind?: string };

const all = (noun: string) => getAll<Named>(noun === "jobs" ? "/api/v1/jobs?limit=500" : `/api/v1/${noun}`);

function save(name: string, text: string) {
  const address = URL.createObjectURL(new Blob([text], { type: "application/yaml" }));
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}

/** Saves definitions as one file that can be brought in again; secrets are never in it. */
export function ExportPanel() {
  const me = useMe();
  const [team, setTeam] = useState("");
  const [done, setDone] = useState<{ now: number; of: number }>();
  const out = useMutation({
    mutationFn: async () => {
      const things = (
        await Promise.all(NOUNS.map(async (noun) => (await all(noun)).map((each) => ({ noun, ...each }))))
      )
        .flat()
        .filter((each) => team === "" || each.team === team);
      const texts: string[] = [];
      for (const [index, { noun, kind, name }] of things.entries()) {
        setDone({ now: index, of: things.length });
        const path = noun === "tellings" ? `${noun}/${kind}/${name}` : `${noun}/${name}`;
        const found = await get<{ definition: string }>(`/api/v1/${path}`);
        texts.push(found.definition.trimEnd());
      }
      save(`gantrel-${team || "all"}.yaml`, `${texts.join("\n---\n")}\n`);
      return things.length;
    },
    onSettled: () => setDone(undefined),
  });
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <Typography color="textSecondary">
        Jobs, calendars, lanes, rosters and rules in one file that can be brought in again, here or elsewhere. Secrets
        are never in it, and neither are the rows of rosters.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Choice label="Of" value={team} options={["", ...Object.keys(me.teams)]} none="all teams" onChange={setTeam} />
        <Button variant="outlined" disabled={out.isPending} onClick={() => out.mutate()}>
          Save as YAML
        </Button>
        {out.isSuccess && <Box role="status">{out.data} definitions were saved.</Box>}
      </Box>
      {done && (
        <LinearProgress
          variant="determinate"
          aria-label="Reading definitions"
          value={done.of === 0 ? 0 : (100 * done.now) / done.of}
        />
      )}
      <Trouble error={out.error} />
    </Box>
  );
}
