import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import type { ItemThen } from "../../api/types";
import { STATE_WORDS } from "../../ui/outcome";
import { durationWords, millis } from "../../ui/times";

const BAR = 5;
const HEIGHT = 22;

/** How long the same took in the latest runs, and how it ended: a bar a run, the newest at the right. */
export function Sparkline({ name, past }: { name: string; past: ItemThen[] }) {
  const { palette } = useTheme();
  const all = [...past].reverse();
  const most = Math.max(1, ...all.map((each) => millis(each.took)));
  const last = all.at(-1);
  if (all.length < 2 || !last) return null;
  const sorted = all.map((each) => millis(each.took)).sort((a, b) => a - b);
  const usual = durationWords(sorted[Math.floor(sorted.length / 2)]);
  const bad = all.filter((each) => each.state !== "succeeded").length;
  const words = `${name} over ${all.length} runs: usually ${usual}, now ${durationWords(millis(last.took))}, ${bad} not fine`;
  return (
    <Box component="span" title={words} sx={{ display: "inline-flex" }}>
      <svg width={all.length * BAR} height={HEIGHT} role="img" aria-label={words}>
        {all.map((each, index) => {
          const high = Math.max(2, Math.round((HEIGHT * millis(each.took)) / most));
          const fine = each.state === "succeeded";
          return (
            <rect
              key={each.run}
              x={index * BAR}
              y={HEIGHT - high}
              width={BAR - 1}
              height={high}
              fill={fine ? palette.outcome.fine : palette.outcome.bad}
              stroke={fine ? undefined : palette.outcome.bad}
            >
              <title>{`run ${each.run}: ${STATE_WORDS[each.state] ?? each.state}, ${durationWords(millis(each.took))}`}</title>
            </rect>
          );
        })}
      </svg>
    </Box>
  );
}
