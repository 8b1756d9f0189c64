import Typography from "@mui/material/Typography";
import { Choice } from "../../ui/Choice";
import { Folded } from "../../ui/Folded";
import { LazyField } from "../../ui/LazyField";
import type { Draft, DraftField } from "./draft";
import { PartList } from "./PartList";
import { GATES, readParts } from "./parts";

type Props = {
  draft: Draft;
  onChange: (field: DraftField, value: string) => void;
  text: string;
  onEdit: (edit: (text: string) => string) => void;
};

const TURNS: { name: DraftField; label: string; help: string; list?: boolean }[] = [
  {
    name: "apartBy",
    label: "Told apart by",
    help: "such as route: only runs with the same value of it count together",
    list: true,
  },
  {
    name: "lanes",
    label: "Lanes",
    help: "such as planning, or planning: 2 for two places of it",
    list: true,
  },
  { name: "priority", label: "Priority", help: "1 to 9; the higher goes first, 5 is usual" },
];

const LIMITS: { name: DraftField; label: string; help: string }[] = [
  { name: "stopAt", label: "Stopped at", help: "the local time at which its window ends, such as 05:30" },
  { name: "totalLimit", label: "Limit over all tries", help: "such as 2 h" },
  { name: "stopPatience", label: "Time to stop by itself", help: "before it is ended by force; 10 s is usual" },
  {
    name: "longAfter",
    label: "Unusually long after",
    help: "such as 45 min; learnt from its history where nothing is said",
  },
  { name: "retryTries", label: "Tries", help: "how many in all; empty for one" },
  { name: "retryWait", label: "Wait before the second try", help: "such as 2 min" },
  { name: "retryGrowth", label: "Growth of the wait", help: "each wait is so many times the one before" },
];

/** How a task's runs behave with nobody watching. */
export function UnattendedFields({ draft, onChange, text, onEdit }: Props) {
  const all = [...TURNS, ...LIMITS].map(({ name }) => name);
  const gates = readParts(text, GATES);
  const used = gates.length > 0 || draft.whileRunning !== "" || all.some((name) => draft[name] !== "");
  return (
    <Folded title="With nobody watching" open={used}>
      <Choice
        label="While another run is under way"
        value={draft.whileRunning || "wait"}
        options={["wait", "skip", "replace", "2", "4"]}
        help="a number: so many may go side by side"
        onChange={(word) => onChange("whileRunning", word === "wait" ? "" : word)}
      />
      {TURNS.map(({ name, label, help, list }) => (
        <LazyField
          key={name}
          label={label}
          help={help}
          value={list ? draft[name].replaceAll("\n", ", ") : draft[name]}
          onCommit={(value) => onChange(name, list ? value.split(/\s*,\s*/).join("\n") : value)}
        />
      ))}
      {LIMITS.map(({ name, label, help }) => (
        <LazyField
          key={name}
          label={label}
          help={help}
          value={draft[name]}
          onCommit={(value) => onChange(name, value)}
        />
      ))}
      <Typography variant="body2" color="textSecondary">
        Gates have to hold before a run starts; it waits for them.
      </Typography>
      <PartList kind={GATES} parts={gates} onEdit={onEdit} />
    </Folded>
  );
}
