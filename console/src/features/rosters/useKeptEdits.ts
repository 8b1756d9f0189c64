import { useEffect, useRef, useState } from "react";
import { type Draft, dropDraft, keepDraft, readDraft } from "../../ui/drafts";
import { useMe } from "../../ui/me";
import { isEdited, NO_EDITS, type RowEdits } from "./rowEdits";

/**
 * Edits of a roster's rows, kept on this device until they are saved. What was left is offered again only while the rows
 * are those that it was made on: edits go by the places of rows.
 *
 * @param tag which rows are there now
 */
export function useKeptEdits(roster: string, tag: string | undefined) {
  const me = useMe();
  const thing = `rows of ${roster}`;
  const [edits, setEdits] = useState(NO_EDITS);
  const [left, setLeft] = useState<Draft | undefined>(() => readDraft(me.name, thing));
  const begun = useRef<string>(undefined);
  const edited = isEdited(edits);
  if (!edited) begun.current = tag;
  useEffect(() => {
    if (edited) keepDraft(me.name, thing, { text: JSON.stringify(edits), base: begun.current ?? "", at: Date.now() });
  }, [edited, edits, me.name, thing]);
  const forget = () => {
    dropDraft(me.name, thing);
    setLeft(undefined);
  };
  return {
    edits,
    setEdits,
    offered: !edited && left && tag !== undefined && left.base === tag ? left : undefined,
    takeOffered: () => {
      if (left) setEdits(JSON.parse(left.text) as RowEdits);
      setLeft(undefined);
    },
    /** They are saved, or not wanted. */
    done: () => {
      forget();
      setEdits(NO_EDITS);
    },
    forget,
  };
}
