import Typography from "@mui/material/Typography";
import { Trouble } from "../../ui/Trouble";
import { AttentionCards } from "./AttentionCards";
import { BoardPanel } from "./BoardPanel";
import { useToday } from "./useToday";

/** Is everything all right? */
export function TodayPage() {
  const today = useToday();
  if (today.error) return <Trouble error={today.error} />;
  if (!today.data) return null;
  const { attention } = today.data;
  return (
    <>
      <title>Today · Gantrel</title>
      <Typography variant="h1">{today.data.sentence}</Typography>
      <Typography sx={{ fontWeight: 600, color: attention.length > 0 ? "error.main" : "success.main", mb: 2 }}>
        {attention.length === 0
          ? "Nothing needs attention."
          : `${attention.length} ${attention.length === 1 ? "job needs" : "jobs need"} attention.`}
      </Typography>
      <AttentionCards attention={attention} zone={today.data.zone} />
      <BoardPanel zone={today.data.zone} from={today.data.from} />
    </>
  );
}
