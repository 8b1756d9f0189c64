import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import type { RunDetail } from "../../api/types";
import { MONO } from "../../theme";
import { useLog } from "./useLog";

const ERROR = /\b(error|fail(ed|ure)?|fatal|exception|refused|denied|missing|cannot)\b/i;

/** The log as it grows; searchable, with lines that look like errors marked. */
export function RunLog({ run }: { run: RunDetail }) {
  const log = useLog(run.number);
  const [text, setText] = useState("");
  const [follow, setFollow] = useState(true);
  const box = useRef<HTMLDivElement>(null);
  const shown = log.lines.map((line, index) => ({ line, number: log.dropped + index + 1 }));
  const found = text ? shown.filter(({ line }) => line.toLowerCase().includes(text.toLowerCase())) : shown;
  const errors = shown.filter(({ line }) => ERROR.test(line)).length;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new line is what moves the view
  useEffect(() => {
    if (follow && box.current) box.current.scrollTop = box.current.scrollHeight;
  }, [log.lines.length, follow]);
  return (
    <Paper component="section" aria-label="Log">
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", p: 1.25, pl: 1.75 }}>
        <Typography variant="h2">Log</Typography>
        <Typography color="textSecondary" variant="body2">
          {log.live && run.state === "running" ? "live · " : ""}
          {log.dropped + log.lines.length} lines
        </Typography>
        {errors > 0 && (
          <Button
            color="error"
            onClick={() => document.querySelector("[data-error]")?.scrollIntoView({ block: "center" })}
          >
            {errors} that look like errors
          </Button>
        )}
        <InputBase
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder="search the log"
          inputProps={{ "aria-label": "Search the log" }}
          sx={{
            ml: "auto",
            border: 1,
            borderColor: "divider",
            borderRadius: 1,
            px: 1,
            fontSize: "0.82rem",
            width: 160,
          }}
        />
        <Button href={`/api/v1/runs/${run.number}/log?download=true`}>Download</Button>
      </Box>
      <Box
        ref={box}
        tabIndex={0}
        role="log"
        onScroll={(event) => {
          const at = event.currentTarget;
          setFollow(at.scrollHeight - at.scrollTop - at.clientHeight < 30);
        }}
        sx={{
          borderTop: 1,
          borderColor: "divider",
          maxHeight: "58vh",
          minHeight: 120,
          overflow: "auto",
          py: 1,
          fontFamily: MONO,
          fontSize: "0.79rem",
        }}
      >
        {log.dropped > 0 && !text && <Line number={0} text={`… ${log.dropped} earlier lines are in the download`} />}
        {found.map(({ line, number }) => (
          <Line key={number} number={number} text={line} />
        ))}
        {found.length === 0 && (
          <Box sx={{ px: 1.75, color: "text.secondary" }}>
            {text ? "no line holds that" : run.state === "waiting" ? "it has not started yet" : "it has said nothing"}
          </Box>
        )}
      </Box>
    </Paper>
  );
}

function Line({ number, text }: { number: number; text: string }) {
  const error = ERROR.test(text);
  return (
    <Box data-error={error ? "" : undefined} sx={{ display: "flex", px: 1, "&:hover": { bgcolor: "paper2" } }}>
      <Box
        component="span"
        aria-hidden
        sx={{ width: 44, flexShrink: 0, pr: 1.5, textAlign: "right", color: "text.secondary", userSelect: "none" }}
      >
        {number || ""}
      </Box>
      <Box
        component="span"
        sx={{
          whiteSpace: "pre-wrap",
          overflowWrap: "anywhere",
          color: error ? "error.main" : "text.primary",
          fontWeight: error ? 600 : 400,
        }}
      >
        {text || " "}
      </Box>
    </Box>
  );
}
