import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Refused } from "../../api/client";
import type { Roster } from "../../api/types";
import { Trouble } from "../../ui/Trouble";
import { asChanges, editWords, isEdited } from "./rowEdits";
import type { KeptEdits } from "./useKeptEdits";
import { useEditRows, type useRosterRows } from "./useRosters";

type Props = {
  roster: Roster;
  kept: KeptEdits;
  page: ReturnType<typeof useRosterRows>;
  onAdd: () => void;
  onLoad: () => void;
};

/** What can be done with the rows, and with the edits that are not saved yet. */
export function EditBar({ roster, kept, page, onAdd, onLoad }: Props) {
  const save = useEditRows(roster.name);
  const { edits } = kept;
  const edited = isEdited(edits);
  const overtaken = save.error instanceof Refused && save.error.status === 412;
  const write = () =>
    save.mutate(
      { changes: asChanges(edits), tag: kept.tag ?? "" },
      {
        onSuccess: kept.done,
        // what a colleague saved has not been heard of yet; read, it is shown beside the edits
        onError: (error) => error instanceof Refused && error.status === 412 && page.refetch(),
      },
    );
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 1, alignItems: "center" }}>
        <Button variant="outlined" size="small" onClick={onAdd}>
          Add a row
        </Button>
        <Button variant="outlined" size="small" onClick={onLoad} disabled={edited}>
          Paste or load rows
        </Button>
        {edited && (
          <>
            <Typography color="textSecondary" sx={{ ml: "auto" }} role="status">
              {editWords(edits)}; not saved yet
            </Typography>
            <Button
              size="small"
              onClick={() => {
                save.reset();
                kept.done();
              }}
            >
              Undo all
            </Button>
            <Button
              size="small"
              variant="contained"
              disabled={save.isPending || kept.overtaken !== undefined}
              title={kept.overtaken ? "Choose first whose rows are to stand" : undefined}
              onClick={write}
            >
              Save rows
            </Button>
          </>
        )}
      </Box>
      <Trouble error={(overtaken ? undefined : save.error) ?? page.error} />
      {kept.beside && edited && !kept.overtaken && (
        <Typography role="status" sx={{ mb: 1 }}>
          Somebody else has saved other rows meanwhile. Your edits stand beside theirs and can be saved.
        </Typography>
      )}
    </>
  );
}
