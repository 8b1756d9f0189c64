import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { useState } from "react";
import type { Answer } from "../api/client";
import { MONO } from "../theme";
import { Panel } from "./Panel";
import { Trouble } from "./Trouble";
import { useGuard } from "./useGuard";

/** How a definition is saved, as the hooks that save one give it. */
export type Saving<T> = {
  mutate: (definition: string, then: { onSuccess: (answer: Answer<T>) => void }) => void;
  isPending: boolean;
  isSuccess: boolean;
  error: Error | null;
};

type Props<T> = { title: string; written: string; save: Saving<T>; onSaved: (body: T) => void; onLeave: () => void };

/** A definition to be written as text: that of a new thing, or the next revision of one that is there. */
export function DefinitionEditor<T>({ title, written, save, onSaved, onLeave }: Props<T>) {
  const [text, setText] = useState(written);
  const changed = text !== written;
  useGuard(changed && !save.isSuccess);
  const leave = () => {
    if (!changed || window.confirm("Leave without saving what you changed?")) onLeave();
  };
  return (
    <Panel title={title}>
      <Trouble error={save.error} />
      <InputBase
        multiline
        fullWidth
        minRows={6}
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
          onClick={() => save.mutate(text, { onSuccess: ({ body }) => onSaved(body) })}
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
