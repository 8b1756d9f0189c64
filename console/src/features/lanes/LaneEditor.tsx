import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { useState } from "react";
import { MONO } from "../../theme";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { useGuard } from "../../ui/useGuard";
import { useSaveLane } from "./useLanes";

type Props = { name: string; written: string; tag?: string; onSaved: (name: string) => void; onLeave: () => void };

/** A lane's definition to be written: a new one, or the next revision of one that was read with the given tag. */
export function LaneEditor({ name, written, tag, onSaved, onLeave }: Props) {
  const [text, setText] = useState(written);
  // the tag of what was read when editing began: a colleague's later change must not be overwritten
  const [begun] = useState(tag);
  const save = useSaveLane(name, begun);
  const changed = text !== written;
  useGuard(changed && !save.isSuccess);
  const leave = () => {
    if (!changed || window.confirm("Leave without saving what you changed?")) onLeave();
  };
  return (
    <Panel title={name ? "Definition" : "New lane"}>
      <Trouble error={save.error} />
      <InputBase
        multiline
        fullWidth
        minRows={5}
        value={text}
        onChange={(event) => setText(event.target.value)}
        inputProps={{ "aria-label": "Definition as YAML", spellCheck: false }}
        sx={{ fontFamily: MONO, fontSize: "0.8rem" }}
      />
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button
          variant="contained"
          size="small"
          disabled={!changed || save.isPending}
          onClick={() => save.mutate(text, { onSuccess: ({ body }) => onSaved(body.lane.name) })}
        >
          Save
        </Button>
        <Button size="small" onClick={leave}>
          Leave
        </Button>
      </Box>
    </Panel>
  );
}
