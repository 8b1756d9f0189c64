import LinearProgress from "@mui/material/LinearProgress";
import { useNavigation } from "react-router";
import { useLate } from "./useLate";

/** That the page which was gone to is on its way: its code comes when it is first opened. */
export function PageComing() {
  const late = useLate(useNavigation().state !== "idle");
  if (!late) return null;
  return (
    <LinearProgress
      aria-label="The page is on its way"
      sx={{ position: "fixed", top: 0, left: 0, right: 0, height: 3, zIndex: "tooltip" }}
    />
  );
}
