import TextField from "@mui/material/TextField";
import { useState } from "react";

type Props = {
  label: string;
  value: string;
  help?: string;
  multiline?: boolean;
  /** Counts at every key; it is shown in order once it is left. */
  live?: boolean;
  onCommit: (value: string) => void;
};

/** A text that counts when it is left or Enter is pressed: what is half typed would mean something else. */
export function LazyField({ label, value, help, multiline, live, onCommit }: Props) {
  const [typed, setTyped] = useState<string>();
  const commit = () => {
    if (!live && typed !== undefined && typed !== value) onCommit(typed);
    setTyped(undefined);
  };
  return (
    <TextField
      size="small"
      label={label}
      helperText={help}
      multiline={multiline}
      // a plain one, its lines counted: one that measures itself lays out the whole page for each such field
      slotProps={
        multiline
          ? { input: { inputComponent: "textarea", inputProps: { rows: (typed ?? value).split("\n").length } } }
          : undefined
      }
      value={typed ?? value}
      onChange={(event) => {
        setTyped(event.target.value);
        if (live) onCommit(event.target.value);
      }}
      onBlur={commit}
      onKeyDown={(event) => event.key === "Enter" && !multiline && commit()}
    />
  );
}
