import TextField from "@mui/material/TextField";

/** What a moment may be written as: the day alone, or with a time; never a browser's own order of day and month. */
const DAY = /^\d{4}-\d{2}-\d{2}$/;
const MOMENT = /^\d{4}-\d{2}-\d{2}[ T]\d{2}:\d{2}(:\d{2})?$/;

type Props = {
  label: string;
  value: string;
  help?: string;
  /** Whether a day alone is meant. */
  dayOnly?: boolean;
  error?: string;
  onChange: (value: string) => void;
};

/** Whether a text is a day, or a moment, that there is. */
export function isMoment(text: string, dayOnly = false): boolean {
  if (!(dayOnly ? DAY : MOMENT).test(text)) return false;
  const day = text.slice(0, 10);
  const read = new Date(`${day}T00:00:00Z`);
  return (
    !Number.isNaN(read.getTime()) &&
    read.toISOString().slice(0, 10) === day &&
    !Number.isNaN(new Date(text.replace(" ", "T")).getTime())
  );
}

/** A day or a moment by ISO 8601, as it is shown everywhere: 2026-11-23, or 2026-11-23 14:30. */
export function MomentField({ label, value, help, dayOnly = false, error, onChange }: Props) {
  const example = dayOnly ? "2026-11-23" : "2026-11-23 14:30";
  const wrong = error ?? (value !== "" && !isMoment(value, dayOnly) ? `${example} would be right` : undefined);
  return (
    <TextField
      size="small"
      label={label}
      value={value}
      placeholder={example}
      error={wrong !== undefined}
      helperText={wrong ?? help}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { inputMode: "numeric", maxLength: 19 } }}
    />
  );
}
