import Box from "@mui/material/Box";
import { PageTitle } from "../../ui/PageTitle";
import { Panel } from "../../ui/Panel";
import { ExportPanel } from "./ExportPanel";
import { ImportPanel } from "./ImportPanel";

/** Definition files, in and out. */
export function FilesPage() {
  return (
    <>
      <PageTitle title="Import and export" />
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
        <Panel title="Bring in definition files">
          <ImportPanel />
        </Panel>
        <Panel title="Save definitions">
          <ExportPanel />
        </Panel>
      </Box>
    </>
  );
}
