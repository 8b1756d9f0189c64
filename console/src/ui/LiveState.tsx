import Alert from "@mui/material/Alert";
import { useEffect, useState } from "react";
import { useLiveness } from "../api/stream";
import { clock, ownZone } from "./times";

/** A page has not failed because it was opened a moment ago. */
const GRACE = 4_000;

/** Says so while what is shown does not change by itself. */
export function LiveState() {
  const { live, since } = useLiveness();
  const [late, setLate] = useState(false);
  useEffect(() => {
    setLate(false);
    if (live) return;
    const timer = setTimeout(() => setLate(true), GRACE);
    return () => clearTimeout(timer);
  }, [live]);
  if (live || !late) return null;
  return (
    <Alert severity="warning" variant="outlined" role="status" sx={{ mb: 1.5, py: 0 }}>
      Not live since {clock(since, ownZone())}: the service does not tell what happens. This page asks every 10 s, and
      is live again by itself.
    </Alert>
  );
}
