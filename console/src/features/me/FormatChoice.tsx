import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import { type DateStyle, useDateStyle } from "../../ui/dateStyle";
import { styled } from "../../ui/times";
import { useBoardZone } from "../../ui/useBoardZone";

const STYLES: DateStyle[] = ["words", "iso"];

/** How dates are written on all pages, wherever one signs in. */
export function FormatChoice() {
  const [style, choose] = useDateStyle();
  const zone = useBoardZone();
  const now = Date.now();
  return (
    <RadioGroup aria-label="How dates are written" value={style} onChange={(_, chosen) => choose(chosen as DateStyle)}>
      {STYLES.map((each) => (
        <FormControlLabel key={each} value={each} control={<Radio size="small" />} label={styled(now, zone, each)} />
      ))}
    </RadioGroup>
  );
}
