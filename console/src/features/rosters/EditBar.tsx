import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import { Refused } from "../../api/client";
import type { Roster } from "../../api/types";
import { Trouble } from "../../ui/Trouble";
import { asChanges, editWords, isEdited, type RowEdits } from "./rowEdits";
import { useEditRows, type useRosterRows } from "./useRosters";

type Props = {
  roster: Roster;
  edits: RowEdits;
  page: ReturnType<typeof useRosterRows>;
  onAdd: () => void;
  onLoad: () => void;
  onDone: () => void;
};

/** What can be done with the rows, and with the edits that are not saved yet. */
export function EditBar({ roster, edits, page, onAdd, onLoad, onDone }: Props) {
  const save = useEditRows(roster.name);
  const edited = isEdited(edits);
  // the tag of what was read when editing began: a colleague's later change must not be overwritten
  const begun = useRef<string>(undefined);
  if (!edited) begun.current = page.data?.tag;
  const overtaken = save.error instanceof Refused && save.error.status === 412;
  const readAgain = async () => {
    const fresh = await page.refetch();
    begun.current = fresh.data?.tag;
    save.reset();
  };
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
                onDone();
              }}
            >
              Undo all
            </Button>
            <Button
              size="small"
              variant="contained"
              disabled={save.isPending}
              onClick={() =>
                save.mutate({ changes: asChanges(edits), tag: begun.current ?? "" }, { onSuccess: onDone })
              }
            >
              Save rows
            </Button>
          </>
        )}
      </Box>
      <Trouble error={save.error ?? page.error} />
      {overtaken && (
        <Button size="small" onClick={readAgain} sx={{ mb: 1 }}>
          Read the rows again and keep my edits
        </Button>
      )}
    </>
  );
}
