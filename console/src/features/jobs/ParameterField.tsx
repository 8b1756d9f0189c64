import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { UseFormRegisterReturn } from "react-hook-form";
import type { Parameter } from "../../api/types";

type Props = { parameter: Parameter; field: UseFormRegisterReturn; complaint?: string };

/** The field for a value of a parameter's type. */
export function ParameterField({ parameter, field, complaint }: Props) {
  const { name, type, fallback, about } = parameter;
  const usually = fallback === undefined ? "needed" : fallback === "" ? "may stay empty" : `usually ${fallback}`;
  const common = {
    label: name,
    error: complaint !== undefined,
    helperText: complaint ?? [about, usually].filter(Boolean).join("; "),
    required: fallback === undefined,
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
  const kind = type === "date" ? "date" : type === "secret" ? "password" : "text";
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
