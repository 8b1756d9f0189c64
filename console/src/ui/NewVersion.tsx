import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useLiveness } from "../api/stream";

const SCRIPT = /\/assets\/index-[\w-]+\.js/;
const ours = document.querySelector<HTMLScriptElement>('script[type="module"][src]')?.src.match(SCRIPT)?.[0];

/** Asks to load the page again when the service behind it has become another version. */
export function NewVersion() {
  const { since, live } = useLiveness();
  const theirs = useQuery({
    // whenever the stream has come back the service may be another one
    queryKey: ["version", live ? since : 0],
    queryFn: async () => (await (await fetch("/", { cache: "no-store" })).text()).match(SCRIPT)?.[0] ?? "",
    enabled: live && ours !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  if (!theirs.data || theirs.data === ours) return null;
  return (
    <Alert
      severity="info"
      sx={{ mb: 1.5 }}
      role="status"
      action={<Button onClick={() => window.location.reload()}>Load again</Button>}
    >
      The service is another version than this page. Load it again; what is not saved yet is kept on this device.
    </Alert>
  );
}
