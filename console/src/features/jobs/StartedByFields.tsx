import Typography from "@mui/material/Typography";
import { Choice } from "../../ui/Choice";
import { Folded } from "../../ui/Folded";
import { LazyField } from "../../ui/LazyField";
import { useEventTypes } from "../events/useEvents";
import type { Draft, DraftField } from "./draft";
import { PartList } from "./PartList";
import { readParts, triggers } from "./parts";

type Props = {
  draft: Draft;
  onChange: (field: DraftField, value: string) => void;
  text: string;
  onEdit: (edit: (text: string) => string) => void;
};

/** What starts a task beside its schedules, and what is missed when it does not happen. */
export function StartedByFields({ draft, onChange, text, onEdit }: Props) {
  const types = useEventTypes();
  const kind = triggers((types.data ?? []).map(({ type }) => type.replace(/^gantrel\./, "")));
  const parts = readParts(text, kind);
  const expects = draft.goodWithin !== "" || draft.startsWithin !== "" || draft.comingStart !== "";
  return (
    <Folded title="Started by events, and expected" open={parts.length > 0 || expects}>
      <PartList kind={kind} parts={parts} onEdit={onEdit} />
      {parts.length > 0 && (
        <Typography variant="body2" color="textSecondary">
          Values for the start (with), limits and hours are written beside.
        </Typography>
      )}
      <LazyField
        label="Good within"
        help="such as 26 h: without a good end for so long, somebody is told"
        value={draft.goodWithin}
        onCommit={(value) => onChange("goodWithin", value)}
      />
      <LazyField
        label="Starts within"
        help="such as 30 min: how long a run may wait to start"
        value={draft.startsWithin}
        onCommit={(value) => onChange("startsWithin", value)}
      />
      <Choice
        label="Has a coming start"
        value={draft.comingStart || "no"}
        options={["no", "yes"]}
        help="yes: somebody is told when its schedules have none any more"
        onChange={(word) => onChange("comingStart", word === "no" ? "" : word)}
      />
    </Folded>
  );
}
