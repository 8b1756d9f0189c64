import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useDeferredValue, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import type { CalendarDay } from "../../api/types";
import { DefinitionText } from "../../ui/DefinitionText";
import { EditorNotes } from "../../ui/EditorNotes";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { readText } from "../../ui/textFile";
import { useEdited } from "../../ui/useEdited";
import { toggleDay } from "./calendarDraft";
import { MovedList } from "./MovedList";
import { useCalendarPreview, useFromIcs, useSaveCalendar } from "./useCalendars";
import { YearBar } from "./YearBar";
import { YearView } from "./YearView";

const TODAY = new Date().toISOString().slice(0, 10);

type Props = { name: string; team: string; written: string; tag?: string };

/** A calendar as a year to click in and as text, with the schedules that a change would move. */
export function CalendarEditor({ name, team, written, tag }: Props) {
  const edited = useEdited(name ? `calendar ${name}` : "the new calendar", written, tag);
  const { text, set, changed, undo, redo, mayUndo, mayRedo } = edited;
  const [label, setLabel] = useState("");
  const [address] = useSearchParams();
  const [year, setYear] = useState(Number(address.get("year") ?? TODAY.slice(0, 4)));
  const save = useSaveCalendar(name);
  const preview = useCalendarPreview(useDeferredValue(text), year);
  const navigate = useNavigate();
  const toggle = (day: CalendarDay) => set((before) => toggleDay(before, day.date, day.open, label));
  const put = () =>
    save.mutate(
      { definition: text, tag: edited.tag },
      {
        onSuccess: ({ body }) => {
          edited.forget();
          navigate(`/calendars/${body.name}?year=${year}`);
        },
      },
    );
  return (
    <>
      <title>{`${name || "New calendar"} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {name ? `Change ${name}` : "New calendar"}
        </Typography>
        {!name && <FromIcs team={team} onRead={(read) => set(() => read)} />}
        <Button onClick={() => navigate(name ? `/calendars/${name}` : "/calendars")}>Cancel</Button>
        <Button onClick={undo} disabled={!mayUndo} title="Ctrl+Z">
          Undo
        </Button>
        <Button onClick={redo} disabled={!mayRedo} title="Ctrl+Shift+Z">
          Redo
        </Button>
        <Button variant="contained" disabled={!changed || save.isPending || preview.error !== null} onClick={put}>
          Save
        </Button>
      </Box>
      <EditorNotes edited={edited} />
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
            <MovedList moved={preview.data?.moved ?? []} notCompared={preview.data?.notCompared} />
          </Panel>
          <Panel title="Definition">
            <DefinitionText text={text} onChange={set} minLines={14} error={save.error} />
          </Panel>
        </Box>
      </Box>
    </>
  );
}

function FromIcs({ team, onRead }: { team: string; onRead: (definition: string) => void }) {
  const read = useFromIcs();
  const [unread, setUnread] = useState<unknown>(null);
  const choose = async (file: File | undefined) => {
    if (!file) return;
    const name = file.name
      .toLowerCase()
      .replace(/\.ics$/, "")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^[-0-9]+|-+$/g, "");
    setUnread(null);
    try {
      const text = await readText(file);
      onRead(await read.mutateAsync({ name: name || "imported", team, text }));
    } catch (error) {
      setUnread(error);
    }
  };
  return (
    <>
      <Trouble error={unread} />
      <Button component="label">
        From an iCalendar file
        <input type="file" accept=".ics,text/calendar" hidden onChange={(event) => choose(event.target.files?.[0])} />
      </Button>
    </>
  );
}
