import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";

/** Goes from year to year, and says what the marks of the days mean. */
export function YearBar({ year, onYear, hint }: { year: number; onYear: (year: number) => void; hint?: string }) {
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, mb: 1.5 }}>
      <Button onClick={() => onYear(year - 1)} aria-label={`Year ${year - 1}`}>
        {year - 1}
      </Button>
      <Typography variant="h2" component="span">
        {year}
      </Typography>
      <Button onClick={() => onYear(year + 1)} aria-label={`Year ${year + 1}`}>
        {year + 1}
      </Button>
      <Typography color="textSecondary" sx={{ fontSize: "0.82rem" }}>
        hatched: closed; corner: has a label; dot: something starts{hint ? `; ${hint}` : ""}
      </Typography>
    </Box>
  );
}
