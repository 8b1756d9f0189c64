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
import { openPalette } from "./palette";

const KEYS = [
  ["/ or Ctrl+K", "find a job, a run, a page, an action"],
  ["t", "Today"],
  ["h", "History"],
  ["j", "Jobs"],
  ["arrows", "move through tables, along the board, over a calendar"],
  ["Enter", "open what is marked"],
  ["Ctrl+Z, Ctrl+Shift+Z", "undo and redo in an editor"],
  ["Esc", "close what lies on top"],
  ["?", "this list"],
];

const PLACES: Record<string, string> = { t: "/", h: "/history", j: "/jobs" };

/** Where a key belongs to what one types or chooses in. */
const OWN_KEYS =
  "input, textarea, select, [contenteditable], [role=dialog], [role=grid], [role=menu], [role=listbox], [role=combobox], [role=tree], [role=slider], [role=log]";

/** The keys that work on every page, and the list of them. */
export function Keys() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented) return;
      if ((event.ctrlKey || event.metaKey) && !event.altKey && event.key.toLowerCase() === "k") {
        event.preventDefault();
        openPalette();
        return;
      }
      const target = event.target instanceof Element ? event.target : document.body;
      const dialog = document.querySelector("[role=dialog]") !== null;
      if (dialog || target.closest(OWN_KEYS) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "/") {
        event.preventDefault();
        openPalette();
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
    <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keys</DialogTitle>
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
