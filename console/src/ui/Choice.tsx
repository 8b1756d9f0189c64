import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

type Props = {
  label: string;
  value: string;
  /** The empty one is what is usual. */
  options: string[];
  help?: string;
  /** What the empty one is called. */
  none?: string;
  onChange: (value: string) => void;
};

/** One of a few words; a value that is none of them stays until another is chosen. */
export function Choice({ label, value, options, help, none = "usual", onChange }: Props) {
  const known = options.includes(value) ? options : [...options, value];
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      helperText={help}
      onChange={(event) => onChange(event.target.value)}
      sx={{ minWidth: 110 }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {known.map((option) => (
        <MenuItem key={option} value={option}>
          {option || none}
        </MenuItem>
      ))}
    </TextField>
  );
}
