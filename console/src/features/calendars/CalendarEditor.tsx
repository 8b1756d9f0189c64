import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useDeferredValue, useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import type { CalendarDay } from "../../api/types";
import { MONO } from "../../theme";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { useGuard } from "../../ui/useGuard";
import { toggleDay } from "./calendarDraft";
import { MovedList } from "./MovedList";
import { useCalendarPreview, useFromIcs, useSaveCalendar } from "./useCalendars";
import { YearBar } from "./YearBar";
import { YearView } from "./YearView";

const TODAY = new Date().toISOString().slice(0, 10);

type Props = { name: string; team: string; written: string; tag?: string };

/** A calendar as a year to click in and as text, with the schedules that a change would move. */
export function CalendarEditor({ name, team, written, tag }: Props) {
  const [text, setText] = useState(written);
  const [history, setHistory] = useState<string[]>([]);
  const [label, setLabel] = useState("");
  const [address] = useSearchParams();
  const [year, setYear] = useState(Number(address.get("year") ?? TODAY.slice(0, 4)));
  const begun = useRef(tag);
  const save = useSaveCalendar(name, begun.current);
  const preview = useCalendarPreview(useDeferredValue(text), year);
  const navigate = useNavigate();
  const changed = text !== written;
  useGuard(changed && !save.isSuccess);
  const change = (next: string) => {
    setHistory((before) => [...before, text]);
    setText(next);
  };
  const undo = () => {
    setText(history.at(-1) ?? written);
    setHistory((before) => before.slice(0, -1));
  };
  const toggle = (day: CalendarDay) => change(toggleDay(text, day.date, day.open, label));
  return (
    <>
      <title>{`${name || "New calendar"} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {name ? `Change ${name}` : "New calendar"}
        </Typography>
        {!name && <FromIcs team={team} onRead={change} />}
        <Button onClick={() => navigate(-1)}>Leave</Button>
        <Button onClick={undo} disabled={history.length === 0}>
          Undo
        </Button>
        <Button
          variant="contained"
          disabled={!changed || save.isPending || preview.error !== null}
          onClick={() =>
            save.mutate(text, { onSuccess: ({ body }) => navigate(`/calendars/${body.name}?year=${year}`) })
          }
        >
          Save
        </Button>
      </Box>
      <Trouble error={save.error ?? preview.error} />
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 3fr) 2fr" } }}>
        <Panel title="Days">
          <YearBar year={year} onYear={setYear} hint="a click turns a day around" />
          <TextField
            label="Label for days that are clicked"
            value={label}
            onChange={(event) => setLabel(event.target.value)}
            sx={{ mb: 1.5, width: 280 }}
          />
          <YearView days={preview.data?.days ?? []} today={TODAY} onToggle={toggle} />
        </Panel>
        <Box
          sx={{
            display: "grid",
            gap: 2,
            alignContent: "start",
            alignSelf: "start",
            minWidth: 0,
            position: { lg: "sticky" },
            top: 16,
          }}
        >
          <Panel title="What a save would move">
            <MovedList moved={preview.data?.moved ?? []} />
          </Panel>
          <Panel title="Definition">
            <InputBase
              multiline
              fullWidth
              minRows={14}
              value={text}
              onChange={(event) => change(event.target.value)}
              inputProps={{ "aria-label": "Definition as YAML", spellCheck: false }}
              sx={{ fontFamily: MONO, fontSize: "0.8rem", alignItems: "flex-start" }}
            />
          </Panel>
        </Box>
      </Box>
    </>
  );
}

function FromIcs({ team, onRead }: { team: string; onRead: (definition: string) => void }) {
  const read = useFromIcs();
  const choose = async (file: File | undefined) => {
    if (!file) return;
    const name = file.name
      .toLowerCase()
      .replace(/\.ics$/, "")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^[-0-9]+|-+$/g, "");
    onRead(await read.mutateAsync({ name: name || "imported", team, text: await file.text() }));
  };
  return (
    <>
      <Trouble error={read.error} />
      <Button component="label">
        From an iCalendar file
        <input type="file" accept=".ics,text/calendar" hidden onChange={(event) => choose(event.target.files?.[0])} />
      </Button>
    </>
  );
}
