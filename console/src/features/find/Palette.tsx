import Box from "@mui/material/Box";
import Dialog from "@mui/material/Dialog";
import InputBase from "@mui/material/InputBase";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { type KeyboardEvent, useCallback, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { closePalette } from "../../ui/palette";
import type { Hit } from "./hits";
import { useFind } from "./useFind";

const PAUSE = 120;

/** Finds anything by some letters of it: arrows move, Enter opens. */
export default function Palette() {
  const [text, setText] = useState("");
  const [asked, setAsked] = useState("");
  const [at, setAt] = useState(0);
  const [entered, setEntered] = useState(false);
  const navigate = useNavigate();
  const { groups, searching } = useFind(asked);
  const all = groups.flatMap((group) => group.hits);
  const marked = all[Math.min(at, all.length - 1)];
  useEffect(() => {
    const timer = setTimeout(() => setAsked(text), PAUSE);
    return () => clearTimeout(timer);
  }, [text]);
  useEffect(() => {
    if (marked) document.getElementById(`hit-${marked.id}`)?.scrollIntoView({ block: "nearest" });
  }, [marked]);
  const open = useCallback(
    (hit: Hit | undefined) => {
      if (!hit) return;
      closePalette();
      navigate(hit.to);
    },
    [navigate],
  );
  // Enter counts for what was typed, which may not be found yet
  useEffect(() => {
    if (!entered || text !== asked || searching) return;
    setEntered(false);
    open(marked);
  }, [entered, text, asked, searching, marked, open]);
  const press = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 5, PageUp: -5 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      setAt((now) => Math.max(0, Math.min(all.length - 1, Math.min(now, all.length - 1) + step)));
    } else if (event.key === "Enter") {
      event.preventDefault();
      setAsked(text);
      setEntered(true);
    }
  };
  return (
    <Dialog
      open
      onClose={closePalette}
      fullWidth
      maxWidth="sm"
      aria-label="Find"
      sx={{ "& .MuiDialog-container": { alignItems: "flex-start" } }}
    >
      <InputBase
        autoFocus
        fullWidth
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
          setEntered(false);
        }}
        onKeyDown={press}
        placeholder="A job, a run's number, a page, what to do …"
        inputProps={{
          role: "combobox",
          "aria-label": "Find a job, a run number or a value",
          "aria-expanded": all.length > 0,
          "aria-controls": "hits",
          "aria-activedescendant": marked ? `hit-${marked.id}` : undefined,
          maxLength: 200,
        }}
        sx={{ px: 2, py: 1.25, fontSize: "1rem", borderBottom: 1, borderColor: "divider" }}
      />
      <Box sx={{ height: 2 }}>{searching && <LinearProgress sx={{ height: 2 }} aria-label="Searching" />}</Box>
      <Box id="hits" role="listbox" aria-label="What was found" sx={{ maxHeight: "60vh", overflow: "auto", pb: 1 }}>
        {groups.map(({ title, hits }) => (
          <Box key={title} role="group" aria-label={title}>
            <Typography variant="h3" component="div" sx={{ px: 2, pt: 1.25, pb: 0.25, color: "text.secondary" }}>
              {title}
            </Typography>
            {hits.map((hit) => (
              <Box
                key={hit.id}
                id={`hit-${hit.id}`}
                role="option"
                aria-selected={hit.id === marked?.id}
                onClick={() => open(hit)}
                onMouseMove={() => setAt(all.indexOf(hit))}
                sx={{ px: 2, py: 0.6, cursor: "pointer", bgcolor: hit.id === marked?.id ? "paper2" : undefined }}
              >
                <Box component="span" sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>
                  {hit.name}
                </Box>
                {hit.about && (
                  <Box component="span" sx={{ color: "text.secondary", ml: 1, fontSize: "0.85rem" }}>
                    {hit.about.slice(0, 140)}
                  </Box>
                )}
              </Box>
            ))}
          </Box>
        ))}
        {all.length === 0 && !searching && asked.trim() !== "" && (
          <Box sx={{ px: 2, py: 2 }}>
            Nothing is called that. <Box component="span">Runs are searched from three letters on.</Box>
          </Box>
        )}
      </Box>
    </Dialog>
  );
}
