import { DefinitionEditor } from "../../ui/DefinitionEditor";
import { useSaveRoster } from "./useRosters";

type Props = { name: string; written: string; tag?: string; onSaved: (name: string) => void; onLeave: () => void };

/** A roster's definition to be written: a new one, or the next revision of one that was read with the given tag. */
export function RosterEditor({ name, written, tag, onSaved, onLeave }: Props) {
  return (
    <DefinitionEditor
      title={name ? "Definition" : "New roster"}
      thing={name ? `roster ${name}` : "the new roster"}
      written={written}
      tag={tag}
      save={useSaveRoster(name)}
      onSaved={(body) => onSaved(body.name)}
      onLeave={onLeave}
    />
  );
}
