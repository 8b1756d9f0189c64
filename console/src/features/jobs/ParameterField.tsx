import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { UseFormRegisterReturn } from "react-hook-form";
import type { Parameter } from "../../api/types";

type Props = { parameter: Parameter; field: UseFormRegisterReturn; complaint?: string };

const KINDS: Record<string, string> = {
  date: "date",
  time: "time",
  "date-time": "datetime-local",
  secret: "password",
};

function rangeWords({ type, of, pattern, least, most }: Parameter): string {
  if (type === "list" && of.length > 0) return `with commas between: ${of.join(", ")}`;
  if (type === "duration" && !least && !most) return "such as PT30M or P2D";
  const range = [least && `at least ${least}`, most && `at most ${most}`].filter(Boolean).join(", ");
  return pattern ? `matching ${pattern}` : range;
}

/** The field for a value of a parameter's type. */
export function ParameterField({ parameter, field, complaint }: Props) {
  const { name, type, fallback, about, ask } = parameter;
  const usually = fallback === undefined ? "needed" : fallback === "" ? "may stay empty" : `usually ${fallback}`;
  const common = {
    label: name,
    error: complaint !== undefined,
    helperText: complaint ?? [about, rangeWords(parameter), usually].filter(Boolean).join("; "),
    required: fallback === undefined || ask,
  };
  const choices = type === "choice" ? parameter.of : type === "yes-no" ? ["yes", "no"] : undefined;
  if (choices) {
    return (
      <TextField
        {...common}
        select
        defaultValue=""
        slotProps={{ htmlInput: field, inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      >
        <MenuItem value="">{fallback === undefined ? "choose" : `(${fallback})`}</MenuItem>
        {choices.map((choice) => (
          <MenuItem key={choice} value={choice}>
            {choice}
          </MenuItem>
        ))}
      </TextField>
    );
  }
  const kind = KINDS[type] ?? "text";
  return (
    <TextField
      {...common}
      type={kind}
      placeholder={fallback}
      autoComplete={type === "secret" ? "new-password" : "off"}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { inputMode: type === "number" ? "decimal" : undefined } }}
      {...field}
    />
  );
}
