import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Refused } from "../../api/client";
import type { Credential } from "../../api/types";
import { FormDialog } from "../../ui/FormDialog";
import { Trouble } from "../../ui/Trouble";
import { KINDS } from "./kinds";
import { given, SecretFields } from "./SecretFields";
import { useRotate } from "./useCredentials";

/** Puts a new secret in the place of the old one, having said whom that concerns. */
export function RotateDialog({ credential, onClose }: { credential: Credential; onClose: () => void }) {
  const [secrets, setSecrets] = useState<Record<string, string>>({});
  const rotate = useRotate(credential.name);
  const parts = KINDS[credential.kind].secrets;
  const filled = given(secrets, parts);
  const problems = rotate.error instanceof Refused ? rotate.error.problems : [];
  const complaint = (part: string) => problems.find((wrong) => wrong.field === part)?.message;
  return (
    <FormDialog
      title={`A new secret for ${credential.name}`}
      changed={Object.keys(filled).length > 0 && !rotate.isSuccess}
      onClose={onClose}
      actions={
        <Button
          variant="contained"
          disabled={Object.keys(filled).length === 0 || rotate.isPending}
          onClick={() => rotate.mutate(filled, { onSuccess: onClose })}
        >
          Rotate
        </Button>
      }
    >
      <Typography>
        {credential.usedBy.length === 0
          ? "No job uses it."
          : `From their next start on these jobs use it: ${credential.usedBy.join(", ")}.`}
      </Typography>
      <SecretFields parts={parts} values={secrets} onChange={setSecrets} complaint={complaint} />
      {problems.length === 0 && <Trouble error={rotate.error} />}
    </FormDialog>
  );
}
