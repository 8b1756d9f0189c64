import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableRow from "@mui/material/TableRow";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { MONO } from "../theme";
import { FIND_ID } from "./FindBox";

const KEYS = [
  ["/", "find a job, a run, a value"],
  ["t", "Today"],
  ["h", "History"],
  ["j", "Jobs"],
  ["arrows", "move through tables and along the board"],
  ["Enter", "open what is marked"],
  ["Esc", "close what lies on top"],
  ["?", "this list"],
];

const PLACES: Record<string, string> = { t: "/", h: "/history", j: "/jobs" };

/** The keys that work on every page, and the list of them. */
export function Keys() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const writing = target.closest("input, textarea, select, [contenteditable], [role=dialog]");
      if (writing || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "/") {
        event.preventDefault();
        document.getElementById(FIND_ID)?.focus();
      } else if (event.key === "?") {
        setOpen(true);
      } else if (PLACES[event.key]) {
        navigate(PLACES[event.key]);
      }
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [navigate]);
  return (
    <Dialog open={open} onClose={() => setOpen(false)}>
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        <Table size="small">
          <TableBody>
            {KEYS.map(([key, what]) => (
              <TableRow key={key}>
                <TableCell sx={{ fontFamily: MONO }}>{key}</TableCell>
                <TableCell>{what}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
    </Dialog>
  );
}
