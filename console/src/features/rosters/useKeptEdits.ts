import { useQuery } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useState } from "react";
import type { RosterRow } from "../../api/types";
import { type Draft, dropDraft, keepDraft, readDraft } from "../../ui/drafts";
import { useMe } from "../../ui/me";
import { isEdited, NO_EDITS, type RowEdits } from "./rowEdits";
import { agree, type Both, inBoth, mineAlone, mineOnTheirs, type Rows, readKept, touched, withBase } from "./rowMerge";
import { rowsAt } from "./useRosters";

/** @param tag which rows the edits were begun on; only those may be overwritten by them */
type Kept = { edits: RowEdits; base: Rows; tag?: string };

const NOTHING: Kept = { edits: NO_EDITS, base: {} };

/** What a colleague saved since edits were begun, where both touched the same rows, and what can be done about it. */
export type Overtaken = { both: Both[]; takeBoth: () => void; takeMine: () => void; takeTheirs: () => void };

export type KeptEdits = ReturnType<typeof useKeptEdits>;

/**
 * Edits of a roster's rows, with the rows that they were made on. They are kept on this device until they are saved, and
 * offered again. When a colleague saves rows meanwhile, edits of other rows go on by themselves, and for rows that both
 * touched it is asked whose stand.
 *
 * @param page the rows that are shown
 * @param tag which rows are there now
 */
export function useKeptEdits(roster: string, page: RosterRow[], tag: string | undefined) {
  const me = useMe();
  const thing = `rows of ${roster}`;
  const [kept, setKept] = useState<Kept>(NOTHING);
  const [left, setLeft] = useState<Draft | undefined>(() => readDraft(me.name, thing));
  const [beside, setBeside] = useState(false);
  const { edits, base } = kept;
  const edited = isEdited(edits);
  useEffect(() => {
    if (edited) {
      keepDraft(me.name, thing, { text: JSON.stringify({ edits, base }), base: kept.tag ?? "", at: Date.now() });
    }
  }, [edited, edits, base, kept.tag, me.name, thing]);
  const forget = () => {
    dropDraft(me.name, thing);
    setLeft(undefined);
  };
  const done = () => {
    forget();
    setBeside(false);
    setKept(NOTHING);
  };
  const moved = edited && tag !== undefined && kept.tag !== undefined && tag !== kept.tag;
  const theirs = useQuery({
    queryKey: ["rosters", roster, "touched", tag, touched(edits)],
    queryFn: () => rowsAt(roster, touched(edits)),
    enabled: moved,
  }).data;
  const both = moved && theirs ? inBoth(edits, base, theirs.rows).filter((row) => !agree(row)) : [];
  const go = (next: RowEdits) => {
    if (!theirs || !isEdited(next)) return done();
    setKept({ edits: next, base: theirs.rows, tag: theirs.tag });
  };
  const settled = useEffectEvent(() => {
    if (!theirs) return;
    setBeside(true);
    go(mineOnTheirs(edits, base, theirs.rows));
  });
  const nothingToChoose = moved && theirs !== undefined && both.length === 0;
  useEffect(() => {
    if (nothingToChoose) settled();
  }, [nothingToChoose]);
  const offer = left && readKept(left.text);
  const fits = left?.base === tag || (offer && touched(offer.edits).every((place) => offer.base[place]));
  return {
    edits,
    /** Which rows may be overwritten by the edits. */
    tag: kept.tag,
    setEdits: (change: (before: RowEdits) => RowEdits) =>
      setKept((was) => {
        const next = change(was.edits);
        return { edits: next, base: withBase(was.base, next, page), tag: isEdited(was.edits) ? was.tag : tag };
      }),
    /** Whether a colleague saved other rows meanwhile. */
    beside,
    overtaken:
      both.length > 0 && theirs
        ? ({
            both,
            takeBoth: () => go(mineOnTheirs(edits, base, theirs.rows)),
            takeMine: () => go(mineAlone(edits, base, theirs.rows)),
            takeTheirs: done,
          } satisfies Overtaken)
        : undefined,
    offered: !edited && left && tag !== undefined && fits ? left : undefined,
    takeOffered: () => {
      if (offer) setKept({ ...offer, tag: left.base });
      setLeft(undefined);
    },
    /** They are saved, or not wanted. */
    done,
    forget,
  };
}
