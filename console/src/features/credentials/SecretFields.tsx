import TextField from "@mui/material/TextField";

type Props = {
  parts: string[];
  values: Record<string, string>;
  onChange: (values: Record<string, string>) => void;
  complaint: (part: string) => string | undefined;
  hint?: string;
};

/** The secret parts of a credential. A key has many lines, so it cannot be covered by dots; it is blurred until it is edited. */
export function SecretFields({ parts, values, onChange, complaint, hint }: Props) {
  return parts.map((part) => (
    <TextField
      key={part}
      label={part}
      value={values[part] ?? ""}
      error={complaint(part) !== undefined}
      helperText={complaint(part) ?? hint}
      onChange={(event) => onChange({ ...values, [part]: event.target.value })}
      {...(part === "key"
        ? { multiline: true, maxRows: 6, sx: { "& textarea:not(:focus)": { filter: "blur(4px)" } } }
        : { type: "password" })}
      slotProps={{ htmlInput: { autoComplete: "new-password", spellCheck: false } }}
    />
  ));
}

/** Those parts that something was typed into. */
export function given(values: Record<string, string>, parts: string[]): Record<string, string> {
  return Object.fromEntries(Object.entries(values).filter(([part, value]) => parts.includes(part) && value !== ""));
}
