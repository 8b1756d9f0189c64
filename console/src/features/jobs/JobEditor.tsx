import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMemo } from "react";
import { useNavigate } from "react-router";
import { DefinitionText } from "../../ui/DefinitionText";
import { EditorNotes } from "../../ui/EditorNotes";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { useEdited } from "../../ui/useEdited";
import { ChainForm } from "../chain/ChainForm";
import { NEW_CHAIN, readChain } from "../chain/chainDraft";
import { type DraftField, readDraft, writeField, writeKind, writeWork } from "./draft";
import { TaskForm } from "./TaskForm";
import { useSave } from "./useJobs";
import type { WorkField } from "./work";

type Props = { name: string; written: string; tag?: string };

/** A form and the same thing as YAML, side by side and always in step. */
export function JobEditor({ name, written, tag }: Props) {
  const edited = useEdited(name ? `job ${name}` : "the new job", written, tag);
  const { text, set: setText, undo, redo, mayUndo, mayRedo, changed } = edited;
  const save = useSave(name);
  const navigate = useNavigate();
  const chain = useMemo(() => readChain(text), [text]);
  const draft = useMemo(() => (chain ? undefined : readDraft(text)), [text, chain]);
  const changeWork = (field: WorkField, value: string) => setText((before) => writeWork(before, field, value));
  const change = (field: DraftField, value: string) => setText((before) => writeField(before, field, value));
  const put = () =>
    save.mutate(
      { definition: text, tag: edited.tag },
      {
        onSuccess: ({ body }) => {
          edited.forget();
          navigate(`/jobs/${body.name}`, { state: { warnings: body.warnings } });
        },
      },
    );
  return (
    <>
      <title>{`${name || "New job"} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, mb: 1.5 }}>
        <Typography variant="h1">{name ? `Change ${name}` : "New job"}</Typography>
        {changed && <Typography color="textSecondary">not saved yet</Typography>}
        <Button sx={{ ml: "auto" }} onClick={() => navigate(name ? `/jobs/${name}` : "/jobs")}>
          Cancel
        </Button>
        {name === "" && !changed && <Button onClick={() => setText(() => NEW_CHAIN)}>Make it a chain</Button>}
        <Button onClick={undo} disabled={!mayUndo} title="Ctrl+Z">
          Undo
        </Button>
        <Button onClick={redo} disabled={!mayRedo} title="Ctrl+Shift+Z">
          Redo
        </Button>
        <Button onClick={() => setText(() => edited.written)} disabled={!changed}>
          Undo all
        </Button>
        <Button variant="contained" disabled={!changed || save.isPending} onClick={put}>
          {save.isPending ? "Looking ahead..." : "Save"}
        </Button>
      </Box>
      <EditorNotes edited={edited} />
      <Trouble error={save.error} />
      {chain && (
        <Box sx={{ mb: 2 }}>
          <Panel title="Steps">
            <ChainForm chain={chain} text={text} onEdit={setText} />
          </Panel>
        </Box>
      )}
      <Box
        sx={{
          display: "grid",
          gap: 2,
          gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: chain ? "minmax(0, 1fr)" : "1fr 1fr" },
        }}
      >
        {!chain && (
          <Panel title="Form">
            {draft ? (
              <TaskForm
                draft={draft}
                named={name !== ""}
                onChange={change}
                onKind={(kind) => setText((before) => writeKind(before, kind))}
                onWork={changeWork}
                text={text}
                onEdit={setText}
              />
            ) : (
              <Typography color="textSecondary">
                The form shows tasks. This text is not yet YAML; it can be changed beside.
              </Typography>
            )}
          </Panel>
        )}
        <Panel title="Definition">
          <DefinitionText text={text} onChange={setText} error={save.error} />
        </Panel>
      </Box>
    </>
  );
}
