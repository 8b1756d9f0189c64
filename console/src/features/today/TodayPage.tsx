import Typography from "@mui/material/Typography";
import { Trouble } from "../../ui/Trouble";
import { AttentionCards } from "./AttentionCards";
import { BoardPanel } from "./BoardPanel";
import { SetAsideCards } from "./SetAsideCards";
import { useToday } from "./useToday";

/** Is everything all right? */
export function TodayPage() {
  const today = useToday();
  if (today.error) return <Trouble error={today.error} />;
  if (!today.data) return null;
  const { attention, setAside } = today.data;
  const calm = attention.length + setAside.length === 0;
  return (
    <>
      <title>Today · Gantrel</title>
      <Typography variant="h1">{today.data.sentence}</Typography>
      <Typography sx={{ fontWeight: 600, color: calm ? "success.main" : "error.main", mb: 2 }}>
        {calm && "Nothing needs attention."}
        {attention.length > 0 &&
          `${attention.length} ${attention.length === 1 ? "job needs" : "jobs need"} attention. `}
        {setAside.length > 0 &&
          `${setAside.length} ${setAside.length === 1 ? "thing is" : "things are"} set aside: the service could not deal with ${setAside.length === 1 ? "it" : "them"}.`}
      </Typography>
      <SetAsideCards things={setAside} zone={today.data.zone} />
      <AttentionCards attention={attention} zone={today.data.zone} />
      <BoardPanel zone={today.data.zone} from={today.data.from} />
    </>
  );
}
