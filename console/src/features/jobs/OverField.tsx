import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useRosters } from "../rosters/useRosters";
import type { Over } from "./useJobs";

/** Once with these values, or once for each row of a roster. */
export function OverField({ over, onChange }: { over: Over; onChange: (over: Over) => void }) {
  const rosters = useRosters();
  if (!rosters.data || rosters.data.length === 0) return null;
  return (
    <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: over.roster ? "1fr 1fr" : "1fr" } }}>
      <TextField
        select
        label="how often"
        value={over.roster}
        onChange={(event) => onChange({ ...over, roster: event.target.value })}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      >
        <MenuItem value="">once</MenuItem>
        {rosters.data.map((roster) => (
          <MenuItem key={roster.name} value={roster.name}>
            for each row of {roster.name}
          </MenuItem>
        ))}
      </TextField>
      {over.roster && (
        <TextField
          label="rows"
          value={over.rows}
          helperText="all, failed, or places such as 1,4-7"
          onChange={(event) => onChange({ ...over, rows: event.target.value })}
        />
      )}
    </Box>
  );
}
