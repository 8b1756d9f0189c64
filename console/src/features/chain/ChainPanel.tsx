import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Paper from "@mui/material/Paper";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import useMediaQuery from "@mui/material/useMediaQuery";
import { lazy, type ReactNode, Suspense, useState } from "react";
import { layOut } from "./layout";
import type { ChainStep } from "./model";
import { Ribbons } from "./Ribbons";
import { StepTable } from "./StepTable";
import { chainSvg, keepSvg } from "./svg";
import { useUnfolded } from "./useUnfolded";

/** Of many nested chains the first have a button; the others are unfolded as these are folded up again. */
const MOST_TO_UNFOLD = 4;

const ChainGraph = lazy(() => import("./ChainGraph"));

type Props = {
  name: string;
  steps: ChainStep[];
  critical?: string[];
  zone?: string;
  /** Whether it goes on, so that what runs can be followed. */
  live?: boolean;
  details?: (step: ChainStep, close: () => void) => ReactNode;
};

/** A chain as a picture, over time, and as a list. */
export function ChainPanel({ name, steps, critical = [], zone, live = false, details }: Props) {
  const narrow = useMediaQuery("(max-width: 700px)");
  const [chosen, setChosen] = useState("");
  const view = chosen || (narrow ? "list" : "graph");
  const [selected, setSelected] = useState("");
  const [find, setFind] = useState("");
  const [follow, setFollow] = useState(true);
  const unfolded = useUnfolded(steps, live);
  const step = unfolded.steps.find((each) => each.step === selected);
  return (
    <Paper component="section" aria-label="Steps">
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", p: 1.25, pb: 1 }}>
        <Typography variant="h2" sx={{ mr: 1 }}>
          Steps
        </Typography>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={view}
          onChange={(_, next) => next && setChosen(next)}
          aria-label="View"
          sx={{ "& .MuiToggleButton-root": { py: 0.25, textTransform: "none" } }}
        >
          <ToggleButton value="graph">Graph</ToggleButton>
          {zone && <ToggleButton value="time">Over time</ToggleButton>}
          <ToggleButton value="list">List</ToggleButton>
        </ToggleButtonGroup>
        {view === "graph" && (
          <TextField
            value={find}
            onChange={(event) => setFind(event.target.value)}
            placeholder="Find a step"
            slotProps={{ htmlInput: { "aria-label": "Find a step" } }}
            sx={{ width: 150, "& input": { py: 0.5 } }}
          />
        )}
        {view === "graph" && live && (
          <FormControlLabel
            control={<Switch size="small" checked={follow} onChange={(_, on) => setFollow(on)} />}
            label="Follow"
            sx={{ ml: 0 }}
          />
        )}
        {view === "graph" && (
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
            {unfolded.nested.slice(0, MOST_TO_UNFOLD).map((each) => (
              <Button key={each.step} onClick={() => unfolded.unfold(each)}>
                Unfold {each.step}
              </Button>
            ))}
            {unfolded.open.map((name) => (
              <Button key={name} onClick={() => unfolded.fold(name)}>
                Fold {name}
              </Button>
            ))}
          </Box>
        )}
        <Button sx={{ ml: "auto" }} onClick={() => keepSvg(chainSvg(layOut(unfolded.steps), critical), name)}>
          Save as SVG
        </Button>
      </Box>
      {view === "graph" && (
        <Suspense fallback={<Box sx={{ height: 240 }} />}>
          <ChainGraph
            steps={unfolded.steps}
            critical={critical}
            selected={selected}
            onSelect={setSelected}
            find={find}
            follow={live && follow}
          />
        </Suspense>
      )}
      {view === "time" && zone && (
        <Box sx={{ px: 1.5, pb: 1 }}>
          <Ribbons steps={steps} critical={critical} zone={zone} selected={selected} onSelect={setSelected} />
        </Box>
      )}
      {view === "list" && <StepTable steps={steps} selected={selected} onSelect={setSelected} />}
      {step && details && (
        <Box sx={{ borderTop: 1, borderColor: "divider", p: 1.5 }}>{details(step, () => setSelected(""))}</Box>
      )}
    </Paper>
  );
}
