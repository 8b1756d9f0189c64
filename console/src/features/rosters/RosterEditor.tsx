import { useState } from "react";
import { DefinitionEditor } from "../../ui/DefinitionEditor";
import { useSaveRoster } from "./useRosters";

type Props = { name: string; written: string; tag?: string; onSaved: (name: string) => void; onLeave: () => void };

/** A roster's definition to be written: a new one, or the next revision of one that was read with the given tag. */
export function RosterEditor({ name, written, tag, onSaved, onLeave }: Props) {
  // the tag of what was read when editing began: a colleague's later change must not be overwritten
  const [begun] = useState(tag);
  return (
    <DefinitionEditor
      title={name ? "Definition" : "New roster"}
      written={written}
      save={useSaveRoster(name, begun)}
      onSaved={(body) => onSaved(body.name)}
      onLeave={onLeave}
    />
  );
}
