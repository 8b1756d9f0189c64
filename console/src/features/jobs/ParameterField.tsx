import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { UseFormRegisterReturn } from "react-hook-form";
import type { Parameter } from "../../api/types";

type Props = { parameter: Parameter; field: UseFormRegisterReturn; complaint?: string };

/** How values of a type are written: by ISO 8601 everywhere, never in a browser's own order. */
const EXAMPLES: Record<string, string> = {
  date: "such as 2026-11-23",
  time: "such as 14:30",
  "date-time": "such as 2026-11-23T14:30",
};

function rangeWords({ type, of, pattern, least, most }: Parameter): string {
  if (type === "list" && of.length > 0) return `with commas between: ${of.join(", ")}`;
  if (type === "duration" && !least && !most) return "such as 30 min or 2 days";
  const range = [EXAMPLES[type], least && `at least ${least}`, most && `at most ${most}`].filter(Boolean).join(", ");
  return pattern ? `matching ${pattern}` : range;
}

/** The field for a value of a parameter's type. */
export function ParameterField({ parameter, field, complaint }: Props) {
  const { name, type, fallback, about, ask, now, nowWords } = parameter;
  // what it is now, not how it is worked out
  const value = now ?? fallback;
  const usually =
    fallback === undefined
      ? "needed"
      : value === ""
        ? "may stay empty"
        : now === undefined && fallback.includes("${")
          ? "worked out at the start"
          : `usually ${value}${nowWords ? `, ${nowWords}` : ""}`;
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
        <MenuItem value="">{fallback === undefined ? "choose" : `(${value})`}</MenuItem>
        {choices.map((choice) => (
          <MenuItem key={choice} value={choice}>
            {choice}
          </MenuItem>
        ))}
      </TextField>
    );
  }
  return (
    <TextField
      {...common}
      type={type === "secret" ? "password" : "text"}
      placeholder={value}
      autoComplete={type === "secret" ? "new-password" : "off"}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { inputMode: type === "number" ? "decimal" : undefined } }}
      {...field}
    />
  );
}
