import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Choice } from "../../ui/Choice";
import { LazyField } from "../../ui/LazyField";
import { addPart, keyOf, type Part, type PartField, type PartKind, removePart, renamePart, writePart } from "./parts";

type Props = { kind: PartKind; parts: Part[]; onEdit: (edit: (text: string) => string) => void };

/** Several alike parts of a definition, each with its fields; parts come and go. */
export function PartList({ kind, parts, onEdit }: Props) {
  return (
    <Box component="section" aria-label={`${kind.one}s`} sx={{ display: "grid", gap: 1.5 }}>
      {parts.map((part, index) => (
        <Box
          // biome-ignore lint/suspicious/noArrayIndexKey: a part has no other identity while its name is edited
          key={index}
          role="group"
          aria-label={`${kind.one} ${part.name}`}
          sx={{ display: "grid", gap: 1.25, p: 1.25, border: 1, borderColor: "divider", borderRadius: 1 }}
        >
          {kind.named && (
            <LazyField
              label="name"
              value={part.name}
              onCommit={(name) => onEdit((text) => renamePart(text, kind, index, name))}
            />
          )}
          {kind.fields
            .filter(
              ({ types, only, keys }) =>
                ((!types || types.includes(part.type ?? "text")) && (!only || only(part))) ||
                keys.some((key) => key in part),
            )
            .map((field) => (
              <Field
                key={field.label}
                field={field}
                part={part}
                onChange={(key, value) => onEdit((text) => writePart(text, kind, index, field, key, value))}
              />
            ))}
          <Box>
            <Button size="small" onClick={() => onEdit((text) => removePart(text, kind, index))}>
              Take this {kind.one} out
            </Button>
          </Box>
        </Box>
      ))}
      <Box>
        <Button size="small" onClick={() => onEdit((text) => addPart(text, kind))}>
          Add {/^[aeiou]/.test(kind.one) ? "an" : "a"} {kind.one}
        </Button>
      </Box>
    </Box>
  );
}

type FieldProps = { field: PartField; part: Part; onChange: (key: string, value: string) => void };

function Field({ field, part, onChange }: FieldProps) {
  const key = keyOf(part, field);
  const value = part[key] ?? "";
  if (field.options) {
    return (
      <Choice
        label={field.label}
        value={value}
        options={field.options}
        help={field.help}
        onChange={(chosen) => onChange(key, chosen)}
      />
    );
  }
  const input = (label: string) => (
    <LazyField label={label} value={value} help={field.help} onCommit={(typed) => onChange(key, typed)} />
  );
  if (field.keys.length === 1) return input(field.label);
  return (
    <Box
      sx={{
        display: "grid",
        gap: 1,
        gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "minmax(0, 10rem) minmax(0, 1fr)" },
      }}
    >
      <Choice label={field.label} value={key} options={field.keys} onChange={(chosen) => onChange(chosen, value)} />
      {input(key)}
    </Box>
  );
}
