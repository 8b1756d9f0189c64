import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import InputBase from "@mui/material/InputBase";
import { useDeferredValue, useEffect, useState } from "react";
import { nextOf } from "./logView";
import { useLogHits } from "./useLog";

type Props = {
  run: number;
  /** Changes when the log has grown enough to be searched anew. */
  version: number;
  /** The line from which next and previous count. */
  at: number;
  onGo: (line: number | undefined) => void;
  onText: (text: string) => void;
};

const PAUSE = 250;

/** Searches all of the log, in the service, and leads from hit to hit and from error to error. */
export function LogFinder({ run, version, at, onGo, onText }: Props) {
  const [text, setText] = useState("");
  const [asked, setAsked] = useState("");
  useEffect(() => {
    const timer = setTimeout(() => {
      setAsked(text.trim());
      onText(text.trim());
    }, PAUSE);
    return () => clearTimeout(timer);
  }, [text, onText]);
  const errors = useLogHits(run, { errors: true }, useDeferredValue(version));
  const hits = useLogHits(run, { q: asked }, version);
  const found = asked ? (hits.data?.lines ?? []) : [];
  const bad = errors.data?.lines ?? [];
  const more = (next: number | null | undefined) => (next === undefined || next === null ? "" : "+");
  const index = found.indexOf(at);
  return (
    <>
      {bad.length > 0 && (
        <Box sx={{ display: "flex", alignItems: "center" }}>
          <Button color="error" onClick={() => onGo(nextOf(bad, at, 1))}>
            {bad.length.toLocaleString("en")}
            {more(errors.data?.next)} that look like errors
          </Button>
          <Step name="Previous error" sign="↑" onClick={() => onGo(nextOf(bad, at, -1))} />
          <Step name="Next error" sign="↓" onClick={() => onGo(nextOf(bad, at, 1))} />
        </Box>
      )}
      <Box sx={{ ml: "auto", display: "flex", alignItems: "center" }}>
        <InputBase
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter") onGo(nextOf(found, at, event.shiftKey ? -1 : 1));
            if (event.key === "Escape") setText("");
          }}
          placeholder="search the log"
          inputProps={{ "aria-label": "Search the log", maxLength: 200 }}
          sx={{ border: 1, borderColor: "divider", borderRadius: 1, px: 1, fontSize: "0.82rem", width: 170 }}
        />
        {asked !== "" && (
          <Box role="status" sx={{ px: 1, fontSize: "0.8rem", color: "text.secondary", whiteSpace: "nowrap" }}>
            {hits.isFetching && found.length === 0
              ? "searching …"
              : found.length === 0
                ? "no line holds that"
                : `${index >= 0 ? `${index + 1} of ` : ""}${found.length.toLocaleString("en")}${more(hits.data?.next)}`}
          </Box>
        )}
        <Step name="Previous hit" sign="↑" disabled={found.length === 0} onClick={() => onGo(nextOf(found, at, -1))} />
        <Step name="Next hit" sign="↓" disabled={found.length === 0} onClick={() => onGo(nextOf(found, at, 1))} />
      </Box>
    </>
  );
}

type StepProps = { name: string; sign: string; disabled?: boolean; onClick: () => void };

function Step({ name, sign, disabled, onClick }: StepProps) {
  return (
    <IconButton size="small" aria-label={name} title={name} disabled={disabled} onClick={onClick}>
      <Box component="span" sx={{ fontSize: "0.85rem", width: 18 }}>
        {sign}
      </Box>
    </IconButton>
  );
}
