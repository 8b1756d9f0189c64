import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { type Answer, Refused } from "../api/client";
import type { Written } from "../api/useSaveDefinition";
import { DefinitionText } from "./DefinitionText";
import { EditorNotes } from "./EditorNotes";
import { Panel } from "./Panel";
import { Trouble } from "./Trouble";
import { useAsk } from "./useAsk";
import { useEdited } from "./useEdited";

/** How a definition is saved, as the hooks that save one give it. */
export type Saving<T> = {
  mutate: (written: Written, then: { onSuccess: (answer: Answer<T>) => void }) => void;
  isPending: boolean;
  error: Error | null;
};

type Props<T> = {
  title: string;
  /** What it is, such as {@code lane printer}; drafts are kept by it. */
  thing: string;
  written: string;
  tag?: string;
  save: Saving<T>;
  onSaved: (body: T) => void;
  onLeave: () => void;
};

/** A definition to be written as text: that of a new thing, or the next revision of one that is there. */
export function DefinitionEditor<T>({ title, thing, written, tag, save, onSaved, onLeave }: Props<T>) {
  const edited = useEdited(thing, written, tag);
  const { text, set, changed, undo, redo, mayUndo, mayRedo } = edited;
  const done = (body: T) => {
    edited.forget();
    onSaved(body);
  };
  const { ask, question } = useAsk();
  const go = () => {
    edited.forget();
    onLeave();
  };
  const leave = () =>
    changed ? ask({ title: `Throw away what you changed in ${thing}?`, deed: "Throw away", onYes: go }) : go();
  return (
    <Panel title={title}>
      {question}
      <EditorNotes edited={edited} />
      <Trouble error={save.error} />
      <DefinitionText text={text} onChange={set} minLines={8} error={save.error} />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
        <Button
          variant="contained"
          disabled={!changed || save.isPending}
          onClick={() => save.mutate({ definition: text, tag: edited.tag }, { onSuccess: ({ body }) => done(body) })}
        >
          Save
        </Button>
        <Button onClick={undo} disabled={!mayUndo} title="Ctrl+Z">
          Undo
        </Button>
        <Button onClick={redo} disabled={!mayRedo} title="Ctrl+Shift+Z">
          Redo
        </Button>
        <Button onClick={leave}>Cancel</Button>
      </Box>
    </Panel>
  );
}

/** Whether a save was refused because somebody else saved first. */
export const wasOvertaken = (error: unknown) => error instanceof Refused && error.status === 412;
