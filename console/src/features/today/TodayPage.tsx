import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import { NotYet } from "../../ui/Asked";
import { useChoice } from "../../ui/choices";
import { ApprovalCards } from "../chain/ApprovalCards";
import { SilenceCards } from "../events/SilenceCards";
import { HoldNote } from "../lanes/HoldNote";
import { AttentionCards } from "./AttentionCards";
import { BoardPanel } from "./BoardPanel";
import { DeadlineCards } from "./DeadlineCards";
import { SetAsideCards } from "./SetAsideCards";
import { type Since, useToday } from "./useToday";

/** Is everything all right? */
export function TodayPage() {
  const [since, setSince] = useChoice<Since>("today", "night");
  const today = useToday(since);
  if (!today.data) return <NotYet query={today} />;
  const { attention, setAside, deadlines, holds, silences } = today.data;
  const calm = attention.length + setAside.length + deadlines.length + silences.length === 0;
  return (
    <>
      <title>Today · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "baseline" }}>
        <Typography variant="h1">{today.data.sentence}</Typography>
        <Button
          sx={{ ml: "auto" }}
          title="The night reaches twelve hours back, or to midnight where that is longer ago"
          onClick={() => setSince(since === "night" ? "midnight" : "night")}
        >
          {since === "night" ? "From midnight only" : "With the night"}
        </Button>
      </Box>
      <Typography sx={{ fontWeight: 600, color: calm ? "success.main" : "error.main", mb: 2 }}>
        {calm && "Nothing needs attention."}
        {attention.length > 0 &&
          `${attention.length} ${attention.length === 1 ? "job needs" : "jobs need"} attention. `}
        {deadlines.length > 0 &&
          `${deadlines.length} ${deadlines.length === 1 ? "deadline is" : "deadlines are"} missed or at risk. `}
        {silences.length > 0 && `${silences.length} ${silences.length === 1 ? "job is" : "jobs are"} silent. `}
        {setAside.length > 0 &&
          `${setAside.length} ${setAside.length === 1 ? "thing is" : "things are"} set aside: the service could not deal with ${setAside.length === 1 ? "it" : "them"}.`}
      </Typography>
      {holds.map((hold) => (
        <HoldNote key={hold.id} hold={hold} zone={today.data.zone} />
      ))}
      {today.data.moreHolds > 0 && (
        <Box sx={{ mb: 1 }}>
          <Link component={RouterLink} to="/holds">
            and {today.data.moreHolds} more holds
          </Link>
        </Box>
      )}
      <ApprovalCards zone={today.data.zone} />
      <Box
        sx={{
          display: "grid",
          columnGap: 2,
          gridTemplateColumns: {
            xs: "minmax(0, 1fr)",
            md: deadlines.length > 0 && silences.length > 0 ? "1fr 1fr" : "minmax(0, 1fr)",
          },
        }}
      >
        <DeadlineCards deadlines={deadlines} zone={today.data.zone} />
        <SilenceCards silences={silences} zone={today.data.zone} />
      </Box>
      <SetAsideCards things={setAside} zone={today.data.zone} />
      <AttentionCards attention={attention} zone={today.data.zone} />
      <BoardPanel deadlines={deadlines} zone={today.data.zone} from={today.data.from} until={today.data.until} />
    </>
  );
}
