import Box from "@mui/material/Box";
import Button from "@mui/material/Button";

type Props = { after: number; last?: number; more: boolean; onMove: (after: number) => void };

/** Goes on in a list whose pages follow the place of their last row, and back to its beginning. */
export function Pager({ after, last, more, onMove }: Props) {
  return (
    <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
      <Button size="small" disabled={after === 0} onClick={() => onMove(0)}>
        First rows
      </Button>
      <Button size="small" disabled={!more} onClick={() => onMove(last ?? after)}>
        Next rows
      </Button>
    </Box>
  );
}
