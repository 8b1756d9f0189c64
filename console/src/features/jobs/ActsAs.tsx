import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { useCredentials } from "../credentials/useCredentials";

/** Whom a task acts as: one of the credentials that one may see, or the name of another. */
export function ActsAs({ value, onChange }: { value: string; onChange: (name: string) => void }) {
  const credentials = useCredentials().data ?? [];
  return (
    <Autocomplete
      freeSolo
      autoSelect
      options={credentials.map(({ name }) => name)}
      value={value || null}
      onChange={(_, name) => onChange(name ?? "")}
      renderOption={({ key, ...props }, name) => (
        <li key={key} {...props}>
          {name}: {credentials.find((each) => each.name === name)?.about}
        </li>
      )}
      renderInput={(input) => (
        <TextField
          {...input}
          label="Acts as"
          helperText="the name of a credential; empty for the service's own account"
        />
      )}
    />
  );
}
