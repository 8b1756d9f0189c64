import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { type Built, FORMS, type Form, NOUNS, PERIODS, PLACES, readBuilt, WEEKDAYS, writeBuilt } from "./builder";

type Props = { text: string; onChange: (text: string) => void };

/** The common forms as fields, and below them the text that they stand for; whichever is changed, both follow. */
export function Builder({ text, onChange }: Props) {
  const built = readBuilt(text);
  const change = (part: Partial<Built>) => onChange(writeBuilt({ ...built, ...part }));
  return (
    <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
      <Choice
        label="Form"
        value={built.form}
        options={Object.keys(FORMS)}
        words={(form) => FORMS[form as Form]}
        onChange={(form) => change({ form: form as Form })}
      />
      <Fields built={built} change={change} />
      <TextField
        label="When"
        value={text}
        multiline
        onChange={(event) => onChange(event.target.value)}
        helperText="a phrase such as 'last working day of every month at 17:00', cron, or DTSTART and RRULE"
      />
    </Box>
  );
}

function Fields({ built, change }: { built: Built; change: (part: Partial<Built>) => void }) {
  const times = (
    <TextField
      label="Times"
      value={built.times}
      onChange={(event) => change({ times: event.target.value })}
      helperText="such as 02:30, or 06:00 and 18:00"
    />
  );
  switch (built.form) {
    case "daily":
      return (
        <Row>
          <Choice
            label="Days"
            value={built.days[0] ?? "day"}
            options={["day", "weekday", "weekend day", "working day"]}
            words={(day) => `every ${day}`}
            onChange={(day) => change({ days: [day] })}
          />
          {times}
        </Row>
      );
    case "weekly":
      return (
        <>
          <ToggleButtonGroup
            value={built.days}
            onChange={(_, days: string[]) => days.length > 0 && change({ days })}
            aria-label="Days of the week"
            size="small"
            color="primary"
          >
            {WEEKDAYS.map((day) => (
              <ToggleButton
                key={day}
                value={day}
                aria-label={`${day.slice(0, 3)}, ${day}`}
                sx={{ flex: 1, textTransform: "none", px: 0.5 }}
              >
                {day.slice(0, 3)}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          {times}
        </>
      );
    case "monthly":
      return (
        <Row>
          <Choice
            label="Day"
            value={built.dayOfMonth}
            options={[
              ...Array.from({ length: 31 }, (_, index) => String(index + 1)),
              "last day",
              ...(/before/.test(built.dayOfMonth) ? [built.dayOfMonth] : []),
            ]}
            words={(day) => (/^\d+$/.test(day) ? `day ${day}` : day)}
            onChange={(dayOfMonth) => change({ dayOfMonth })}
          />
          {times}
        </Row>
      );
    case "nth":
      return (
        <Row>
          <Choice label="Which" value={built.place} options={PLACES} onChange={(place) => change({ place })} />
          <Choice
            label="Day"
            value={built.days[0] ?? "working day"}
            options={NOUNS}
            onChange={(noun) => change({ days: [noun] })}
          />
          <Choice label="Of every" value={built.period} options={PERIODS} onChange={(period) => change({ period })} />
          {times}
        </Row>
      );
    case "steps":
      return (
        <Row>
          <TextField label="Every" value={built.step} onChange={(event) => change({ step: event.target.value })} />
          <Choice
            label="Unit"
            value={built.unit}
            options={["minutes", "hours"]}
            onChange={(unit) => change({ unit })}
          />
          <TextField
            label="From"
            placeholder="06:00"
            value={built.from}
            onChange={(event) => change({ from: event.target.value, until: built.until || "22:00" })}
          />
          <TextField
            label="To"
            placeholder="22:00"
            value={built.until}
            onChange={(event) => change({ until: event.target.value, from: built.from || "06:00" })}
          />
        </Row>
      );
    default:
      return null;
  }
}

function Row({ children }: { children: React.ReactNode }) {
  return (
    <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fit, minmax(120px, 1fr))" }}>
      {children}
    </Box>
  );
}

type ChoiceProps = {
  label: string;
  value: string;
  options: string[];
  words?: (option: string) => string;
  onChange: (value: string) => void;
};

function Choice({ label, value, options, words = (option) => option, onChange }: ChoiceProps) {
  return (
    <TextField
      select
      label={label}
      value={options.includes(value) ? value : ""}
      onChange={(event) => onChange(event.target.value)}
    >
      {options.map((option) => (
        <MenuItem key={option} value={option}>
          {words(option)}
        </MenuItem>
      ))}
    </TextField>
  );
}
