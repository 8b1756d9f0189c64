import { useState } from "react";
import { DefinitionEditor } from "../../ui/DefinitionEditor";
import { useSaveLane } from "./useLanes";

type Props = { name: string; written: string; tag?: string; onSaved: (name: string) => void; onLeave: () => void };

/** A lane's definition to be written: a new one, or the next revision of one that was read with the given tag. */
export function LaneEditor({ name, written, tag, onSaved, onLeave }: Props) {
  // the tag of what was read when editing began: a colleague's later change must not be overwritten
  const [begun] = useState(tag);
  return (
    <DefinitionEditor
      title={name ? "Definition" : "New lane"}
      written={written}
      save={useSaveLane(name, begun)}
      onSaved={(body) => onSaved(body.lane.name)}
      onLeave={onLeave}
    />
  );
}
