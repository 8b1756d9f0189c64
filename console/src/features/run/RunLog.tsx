import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useRef, useState } from "react";
import { useLocation } from "react-router";
import type { RunDetail } from "../../api/types";
import { MONO } from "../../theme";
import { Trouble } from "../../ui/Trouble";
import { LogFinder } from "./LogFinder";
import { LogLine } from "./LogLine";
import { lineOf } from "./logView";
import { useLog } from "./useLog";

const LINE = 19;
/** Longer logs are not wrapped: their lines are all as high as another, which is what makes them quick. */
const WRAPPED = 3_000;

/** The log as it grows, the end first; only what is in view is on the page, however long it is. */
export function RunLog({ run }: { run: RunDetail }) {
  const { log, shown } = useLog(run);
  const { hash } = useLocation();
  const linked = lineOf(hash);
  const box = useRef<HTMLDivElement>(null);
  const [follow, setFollow] = useState(linked === undefined);
  const [marked, setMarked] = useState(linked);
  const [sought, setSought] = useState("");
  const { total } = shown;
  const wrap = total <= WRAPPED;
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => box.current,
    estimateSize: () => LINE,
    overscan: 20,
  });
  const items = rows.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is new may be what is in view
  useEffect(() => log.want(first, last), [log, first, last, shown.version]);
  useEffect(() => {
    if (follow && total > 0) rows.scrollToIndex(total - 1, { align: "end" });
  }, [follow, total, rows]);
  useEffect(() => {
    if (marked !== undefined && shown.known) rows.scrollToIndex(marked, { align: "center" });
  }, [marked, shown.known, rows]);
  // a link to another line, from the log itself or from elsewhere
  useEffect(() => {
    if (linked === undefined) return;
    setFollow(false);
    setMarked(linked);
  }, [linked]);
  const goTo = useCallback((line: number | undefined) => {
    setFollow(false);
    setMarked(line);
  }, []);
  const toEnd = () => {
    setMarked(undefined);
    setFollow(true);
  };
  const live = shown.live && run.state === "running";
  return (
    <Paper component="section" aria-label="Log" sx={{ minWidth: 0 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", p: 1.25, pl: 1.75 }}>
        <Typography variant="h2">Log</Typography>
        <Typography color="textSecondary" variant="body2">
          {live ? "live · " : ""}
          {shown.known ? `${total.toLocaleString("en")} ${total === 1 ? "line" : "lines"}` : ""}
        </Typography>
        <LogFinder
          run={run.number}
          version={live ? Math.floor(total / 200) : total}
          at={marked ?? (follow ? total : first)}
          onGo={goTo}
          onText={setSought}
        />
        {!follow && (
          <Button onClick={toEnd} title="Show the end, and what comes">
            To the end
          </Button>
        )}
        <Button href={`/api/v1/runs/${run.number}/log?download=true`}>Download</Button>
      </Box>
      <Trouble error={shown.error} />
      <Box
        ref={box}
        tabIndex={0}
        role="log"
        aria-live={live ? "polite" : "off"}
        aria-label="Lines of the log"
        onWheel={(event) => event.deltaY < 0 && setFollow(false)}
        onKeyDown={(event) => ["ArrowUp", "PageUp", "Home"].includes(event.key) && setFollow(false)}
        onScroll={(event) => {
          const at = event.currentTarget;
          if (at.scrollHeight - at.scrollTop - at.clientHeight < 30 && marked === undefined) setFollow(true);
        }}
        sx={{
          borderTop: 1,
          borderColor: "divider",
          height: `min(58vh, ${Math.max(120, total * (wrap ? LINE * 1.6 : LINE) + 24)}px)`,
          overflow: "auto",
          py: 1,
          fontFamily: MONO,
          fontSize: "0.79rem",
          lineHeight: `${LINE}px`,
          contain: "strict",
        }}
      >
        <Box sx={{ height: rows.getTotalSize(), position: "relative", minWidth: wrap ? undefined : "max-content" }}>
          {items.map((item) => (
            <LogLine
              key={item.key}
              number={item.index}
              text={log.line(item.index)}
              top={item.start}
              wrap={wrap}
              measure={wrap ? rows.measureElement : undefined}
              marked={item.index === marked}
              sought={sought}
              onMark={goTo}
            />
          ))}
        </Box>
        {shown.known && total === 0 && (
          <Box sx={{ px: 1.75, color: "text.secondary" }}>
            {run.state === "waiting" ? "it has not started yet" : "it has said nothing"}
          </Box>
        )}
      </Box>
    </Paper>
  );
}
