import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

type Props = {
  label: string;
  value: string;
  /** The empty one is what is usual. */
  options: string[];
  help?: string;
  onChange: (value: string) => void;
};

/** One of a few words; a value that is none of them stays until another is chosen. */
export function Choice({ label, value, options, help, onChange }: Props) {
  const known = options.includes(value) ? options : [...options, value];
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      helperText={help}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {known.map((option) => (
        <MenuItem key={option} value={option}>
          {option || "usual"}
        </MenuItem>
      ))}
    </TextField>
  );
}
