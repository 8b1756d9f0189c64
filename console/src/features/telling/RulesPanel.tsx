import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Telling } from "../../api/types";
import { DefinitionEditor } from "../../ui/DefinitionEditor";
import { Empty } from "../../ui/Empty";
import { useMe } from "../../ui/me";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useAsk } from "../../ui/useAsk";
import { StandInDialog, SwapDialog } from "./DutyDialogs";
import { useRetireTelling, useSaveTelling, useTellings, useTryChannel } from "./useTelling";

const TITLES: Record<string, string> = {
  notification: "Rules",
  duty: "Duty lists",
  channel: "Channels",
  digest: "Digests",
  wording: "Wordings",
};

const FRESH: Record<string, string> = {
  notification: `notification: 
team: 
for: { labels: [ ], jobs: [ ] }      # all jobs of the team where neither is named
tells: [ failed, timed-out, missed, late, recovered ]
to: [ owner ]                        # starter, an address, { person: }, { team: , role: }, { duty: }
by: mail
remind: 2 h
`,
  duty: `duty: 
team: 
zone: Europe/Oslo
from: 2026-11-23
handover: monday at 08:00
turns: [ ]
covers: [ ]                          # { from: 2026-12-24, until: 2026-12-27, person: }
`,
  digest: `digest: 
team: 
when: every weekday at 07:30
zone: Europe/Oslo
to: [ ]                              # an address, { person: }, { team: , role: }, { duty: }
`,
  wording: `wording: 
team: 
subject: "{{job}} {{state}}"
text: |
  {{sentence}}
  {{#lines}}> {{.}}
  {{/lines}}
  {{link}}
`,
  channel: `channel: 
team: 
call: https://desk.example.org/hook   # or command: [ /usr/local/bin/page, night ]
`,
};

/** Who is told of what: rules, duty lists and channels, to be read and changed. */
export function RulesPanel() {
  const tellings = useTellings();
  const me = useMe();
  const mayDefine = Object.values(me.teams).some((deeds) => deeds.includes("define-jobs"));
  return (
    <Box sx={{ display: "grid", gap: 3, gridTemplateColumns: "minmax(0, 1fr)" }}>
      <Trouble error={tellings.error} />
      {Object.entries(TITLES).map(([kind, title]) => (
        <Kind
          key={kind}
          kind={kind}
          title={title}
          all={(tellings.data ?? []).filter((each) => each.kind === kind)}
          loaded={tellings.data !== undefined}
          mayDefine={mayDefine}
        />
      ))}
    </Box>
  );
}

type KindProps = { kind: string; title: string; all: Telling[]; loaded: boolean; mayDefine: boolean };

function Kind({ kind, title, all, loaded, mayDefine }: KindProps) {
  const [making, setMaking] = useState(false);
  return (
    <Box component="section" aria-label={title}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", mb: 1 }}>
        <Typography variant="h2">{title}</Typography>
        {mayDefine && !making && <Button onClick={() => setMaking(true)}>New</Button>}
      </Box>
      {making && <NewOne kind={kind} onDone={() => setMaking(false)} />}
      {loaded && all.length === 0 && !making && (
        <Paper>
          <Empty
            title="There is none yet"
            hint={
              kind === "notification"
                ? "Without rules, only the addresses that jobs name under notify are told."
                : undefined
            }
          />
        </Paper>
      )}
      <Box sx={{ display: "grid", gap: 1 }}>
        {all.map((each) => (
          <One key={each.name} telling={each} />
        ))}
      </Box>
    </Box>
  );
}

function NewOne({ kind, onDone }: { kind: string; onDone: () => void }) {
  return (
    <DefinitionEditor
      title="A new one"
      thing={`the new ${kind}`}
      written={FRESH[kind]}
      save={useSaveTelling()}
      onSaved={onDone}
      onLeave={onDone}
    />
  );
}

function One({ telling }: { telling: Telling }) {
  const [editing, setEditing] = useState(false);
  const retire = useRetireTelling();
  const { ask, question } = useAsk();
  const tried = useTryChannel();
  const [doing, setDoing] = useState<"cover" | "swap">();
  if (editing) return <Editor telling={telling} onDone={() => setEditing(false)} />;
  return (
    <Paper component="article" aria-label={telling.name} sx={{ p: 1.5, minWidth: 0 }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Box sx={{ fontWeight: 650 }}>{telling.name}</Box>
        <Box sx={{ color: "text.secondary" }}>{telling.team}</Box>
        <Box sx={{ ml: "auto", display: "flex", gap: 0.5 }}>
          {telling.kind === "channel" && telling.mayChange && (
            <Button disabled={tried.isPending} onClick={() => tried.mutate(telling.name)}>
              Try it
            </Button>
          )}
          {telling.kind === "duty" && <Button onClick={() => setDoing("cover")}>Stand in</Button>}
          {telling.kind === "duty" && telling.mayChange && <Button onClick={() => setDoing("swap")}>Swap weeks</Button>}
          {telling.mayChange && <Button onClick={() => setEditing(true)}>Edit</Button>}
          {telling.mayChange && (
            <Button
              color="error"
              disabled={retire.isPending}
              onClick={() =>
                ask({
                  title: `Retire ${telling.name}?`,
                  deed: "Retire it",
                  text: "Nobody is told by it any more. Its revisions stay.",
                  onYes: () => retire.mutate(telling),
                })
              }
            >
              Retire
            </Button>
          )}
        </Box>
      </Box>
      <Box sx={{ overflowWrap: "anywhere" }}>{telling.words}</Box>
      {telling.about && <Box sx={{ color: "text.secondary", fontSize: "0.85rem" }}>{telling.about}</Box>}
      {telling.onDuty && (
        <Box sx={{ mt: 0.75 }}>
          On duty now: <b>{telling.onDuty}</b>
          <Box
            component="ul"
            sx={{ m: 0, mt: 0.5, p: 0, listStyle: "none", fontSize: "0.85rem", color: "text.secondary" }}
          >
            {(telling.ahead ?? []).slice(0, 4).map((watch) => (
              <li key={watch.from}>
                <Time at={watch.from} /> to <Time at={watch.until} /> {watch.person}
                {watch.cover && ", standing in"}
              </li>
            ))}
          </Box>
        </Box>
      )}
      {telling.warnings.map((warning) => (
        <Box key={warning} role="note" sx={{ mt: 0.75, pl: 1, borderLeft: 4, borderColor: "outcome.amber" }}>
          {warning}
        </Box>
      ))}
      {tried.data && (
        <Box role="status" sx={{ mt: 0.75 }}>
          {tried.data.taken ? `Taken by ${tried.data.to}.` : `Not taken by ${tried.data.to}: ${tried.data.said}`}
        </Box>
      )}
      <Trouble error={retire.error ?? tried.error} />
      {question}
      {doing === "cover" && <StandInDialog duty={telling} onDone={() => setDoing(undefined)} />}
      {doing === "swap" && <SwapDialog duty={telling} onDone={() => setDoing(undefined)} />}
    </Paper>
  );
}

function Editor({ telling, onDone }: { telling: Telling; onDone: () => void }) {
  return (
    <DefinitionEditor
      title={telling.name}
      thing={`${telling.kind} ${telling.name}`}
      written={telling.definition}
      tag={`"r${telling.revision}"`}
      save={useSaveTelling(telling)}
      onSaved={onDone}
      onLeave={onDone}
    />
  );
}
