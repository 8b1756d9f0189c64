import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Coming } from "../../ui/Asked";
import { Trouble } from "../../ui/Trouble";
import { FillStarter } from "./FillStarter";
import { useStarters } from "./useStarters";

/** What do others begin with? Each is a definition with a few blanks. */
export function StartersPage() {
  const starters = useStarters();
  const [chosen, setChosen] = useState("");
  return (
    <>
      <title>Starters · Gantrel</title>
      <Typography variant="h1" sx={{ mb: 0.5 }}>
        Begin with a starter
      </Typography>
      <Typography sx={{ mb: 2 }}>
        Fill the blanks, look at the definition, bring it in. Its schedule begins off.
      </Typography>
      <Trouble error={starters.error} />
      {starters.isPending && <Coming />}
      <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "minmax(0, 1fr)" }}>
        {starters.data?.map((starter) => (
          <Paper key={starter.name} component="section" aria-label={starter.name} sx={{ p: 1.75 }}>
            <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5 }}>
              <Box sx={{ flex: 1, minWidth: 220 }}>
                <Typography variant="h2">{starter.name.replaceAll("-", " ")}</Typography>
                <Typography color="textSecondary">{starter.about}</Typography>
              </Box>
              <Button
                variant="outlined"
                onClick={() => setChosen(chosen === starter.name ? "" : starter.name)}
                aria-expanded={chosen === starter.name}
              >
                {chosen === starter.name ? "Put back" : "Use"}
              </Button>
            </Box>
            {chosen === starter.name && <FillStarter starter={starter} />}
          </Paper>
        ))}
      </Box>
    </>
  );
}
