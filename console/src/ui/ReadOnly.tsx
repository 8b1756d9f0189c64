import Paper from "@mui/material/Paper";
import { DefinitionText } from "./DefinitionText";
import { PageTitle } from "./PageTitle";
import { Panel } from "./Panel";

/** A definition for whoever may look at it and not change it, which is said at once and not when they want to save. */
export function ReadOnly({ title, why, text }: { title: string; why: string; text: string }) {
  return (
    <>
      <PageTitle title={title} />
      <Paper role="note" sx={{ p: 1.25, mb: 2, borderLeft: 4, borderLeftColor: "outcome.amber" }}>
        {why}
      </Paper>
      <Panel title="Definition">
        <DefinitionText text={text} readOnly />
      </Panel>
    </>
  );
}
