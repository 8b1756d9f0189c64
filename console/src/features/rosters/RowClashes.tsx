import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableContainer from "@mui/material/TableContainer";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import type { Both, Written } from "./rowMerge";
import type { Overtaken } from "./useKeptEdits";

const MOST_LINES = 60;

/** Rows that two people changed, both versions side by side, and whose is to stand. */
export function RowClashes({ overtaken, columns }: { overtaken: Overtaken; columns: string[] }) {
  const { both } = overtaken;
  const lines = both.flatMap((row) => linesOf(row, columns));
  return (
    <Alert severity="warning" icon={false} sx={{ mb: 1.5, "& .MuiAlert-message": { width: "100%", minWidth: 0 } }}>
      <Box role="status">
        <Typography sx={{ fontWeight: 650 }}>
          Somebody else has saved {both.length === 1 ? "a row" : `${both.length} rows`} that you were editing.
        </Typography>
        Nothing of yours is lost. Edits of other rows stay as they are, whatever you choose but <i>Theirs</i>.
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, my: 1 }}>
        <Button
          variant="outlined"
          onClick={overtaken.takeBoth}
          title="Both people's changes; where both changed a value, yours"
        >
          Mine on top of theirs
        </Button>
        <Button onClick={overtaken.takeMine} title="These rows just as you have them">
          Mine
        </Button>
        <Button onClick={overtaken.takeTheirs} title="Drops all your edits, of other rows too">
          Theirs
        </Button>
      </Box>
      <TableContainer sx={{ maxHeight: "40vh" }} tabIndex={0} role="region" aria-label="Both versions">
        <Table size="small" stickyHeader sx={{ "& td": { overflowWrap: "anywhere" } }}>
          <TableHead>
            <TableRow>
              {["Row", "Column", "Before", "Theirs", "Mine"].map((each) => (
                <TableCell key={each}>{each}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {lines.slice(0, MOST_LINES).map((line) => (
              <TableRow key={`${line.place} ${line.column}`}>
                <TableCell>{line.place}</TableCell>
                <TableCell>{line.column}</TableCell>
                <TableCell>{line.before}</TableCell>
                <TableCell sx={{ fontWeight: line.theirs === line.before ? 400 : 650 }}>{line.theirs}</TableCell>
                <TableCell sx={{ fontWeight: line.mine === line.before ? 400 : 650 }}>{line.mine}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </TableContainer>
      {lines.length > MOST_LINES && <Typography>and {lines.length - MOST_LINES} differences more</Typography>}
    </Alert>
  );
}

type Line = { place: number; column: string; before: string; theirs: string; mine: string };

/** What is different in a row; one line for a row that one of both removed. */
function linesOf({ place, before, theirs, mine }: Both, columns: string[]): Line[] {
  if (!theirs || !mine) {
    const whole = (row: Written | undefined) =>
      row ? columns.map((each) => row.values[each] ?? "").join(", ") : "removed";
    return [{ place, column: "the row", before: whole(before), theirs: whole(theirs), mine: whole(mine) }];
  }
  const cells = columns.map((column) => ({
    place,
    column,
    before: before.values[column] ?? "",
    theirs: theirs.values[column] ?? "",
    mine: mine.values[column] ?? "",
  }));
  const taken = (row: Written) => (row.included ? "yes" : "no");
  const included = { place, column: "In", before: taken(before), theirs: taken(theirs), mine: taken(mine) };
  return [included, ...cells].filter((line) => line.theirs !== line.before || line.mine !== line.before);
}
