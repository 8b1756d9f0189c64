import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { dayAndClock, ownZone } from "./times";

type Props = { what: string; at: number; onTake: () => void; onDrop: () => void };

/** What was left here unsaved the last time, to go on with or to throw away. */
export function OfferedDraft({ what, at, onTake, onDrop }: Props) {
  return (
    <Alert
      severity="info"
      sx={{ mb: 1.5 }}
      action={
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button onClick={onTake}>Go on with them</Button>
          <Button onClick={onDrop}>Throw them away</Button>
        </Box>
      }
    >
      {what} from {dayAndClock(at, ownZone())} were not saved and are kept on this device.
    </Alert>
  );
}
