import { DefinitionEditor } from "../../ui/DefinitionEditor";
import { useSaveLane } from "./useLanes";

type Props = { name: string; written: string; tag?: string; onSaved: (name: string) => void; onLeave: () => void };

/** A lane's definition to be written: a new one, or the next revision of one that was read with the given tag. */
export function LaneEditor({ name, written, tag, onSaved, onLeave }: Props) {
  return (
    <DefinitionEditor
      title={name ? "Definition" : "New lane"}
      thing={name ? `lane ${name}` : "the new lane"}
      written={written}
      tag={tag}
      save={useSaveLane(name)}
      onSaved={(body) => onSaved(body.lane.name)}
      onLeave={onLeave}
    />
  );
}
