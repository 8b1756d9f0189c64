import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useCall } from "../../api/useCall";
import { Ask } from "../../ui/Ask";

/** The key that secrets are sealed with. */
export function KeyPanel() {
  const [asking, setAsking] = useState(false);
  const rotate = useCall<{ credentials: number; runs: number }>("credentials", "changes");
  return (
    <>
      <Typography sx={{ mb: 1 }}>Secrets are sealed with a key that lies beside the database.</Typography>
      <Button variant="outlined" onClick={() => setAsking(true)}>
        Make a new key
      </Button>
      {rotate.data && (
        <Alert severity="success" sx={{ mt: 1 }} role="status">
          There is a new key. Sealed again: {rotate.data.body.credentials} credentials and {rotate.data.body.runs} runs.
        </Alert>
      )}
      {asking && (
        <Ask
          title="Make a new key?"
          deed="Make it"
          danger={false}
          busy={rotate.isPending}
          error={rotate.error}
          onClose={() => setAsking(false)}
          onYes={() =>
            rotate.mutate({ method: "POST", path: "/api/v1/keys/rotation" }, { onSuccess: () => setAsking(false) })
          }
        >
          Every secret is sealed again with it, and the old key is deleted. Work goes on meanwhile. Copies of the data
          folder from before need the old key.
        </Ask>
      )}
    </>
  );
}
