import { useCallback, useEffect, useRef, useState } from "react";
import { type Draft, dropDraft, keepDraft, readDraft } from "./drafts";
import { useMe } from "./me";
import { mineOnTheirs } from "./merge";
import { useGuard } from "./useGuard";
import { useUndoable } from "./useUndoable";

/** A version that somebody else saved meanwhile. */
type Version = { text: string; tag?: string };

const KEEP_AFTER = 400;

/**
 * A text under somebody's hands: with its past, guarded, kept on this device until it is saved, and told of when
 * somebody else saves the same thing meanwhile.
 *
 * @param thing what it is, such as `job count-boats`
 * @param written how it is saved, as far as is known now
 * @param tag which revision that is
 */
export function useEdited(thing: string, written: string, tag?: string) {
  const me = useMe();
  const past = useUndoable(written);
  const { text, set, restart } = past;
  const [base, setBase] = useState<Version>({ text: written, tag });
  const [offered, setOffered] = useState<Draft | undefined>(() => {
    const draft = readDraft(me.name, thing);
    return draft && draft.text !== written ? draft : undefined;
  });
  const [kept, setKept] = useState(true);
  const [clashes, setClashes] = useState(0);
  const changed = text !== base.text;
  const fresher = written !== base.text || tag !== base.tag;
  const begun = useRef(false);
  /** The text that is saved, or not wanted: what was about to keep it comes too late. */
  const done = useRef<string>(undefined);
  const release = useGuard(changed, `what you changed in ${thing}`);
  useEffect(() => {
    // what nobody has touched simply follows, and so does what both have made the same
    if (!fresher || (changed && written !== text && written !== base.text)) return;
    setBase({ text: written, tag });
    if (!changed) restart(written);
  }, [fresher, changed, written, tag, text, base.text, restart]);
  useEffect(() => {
    if (!changed) {
      if (begun.current) dropDraft(me.name, thing);
      return;
    }
    begun.current = true;
    if (text !== done.current) done.current = undefined;
    const keep = () => {
      if (text !== done.current) setKept(keepDraft(me.name, thing, { text, base: base.text, at: Date.now() }));
    };
    const timer = setTimeout(keep, KEEP_AFTER);
    window.addEventListener("pagehide", keep);
    return () => {
      clearTimeout(timer);
      window.removeEventListener("pagehide", keep);
    };
  }, [changed, text, base.text, me.name, thing]);
  const forget = useCallback(() => {
    release();
    done.current = text;
    dropDraft(me.name, thing);
  }, [release, text, me.name, thing]);
  const moveOn = (next: string) => {
    setBase({ text: written, tag });
    set(() => next);
  };
  return {
    ...past,
    changed,
    /** The revision that a save is made upon. */
    tag: base.tag,
    written: base.text,
    /** What somebody else saved while this was being written. */
    theirs: changed && written !== text && written !== base.text ? { text: written, base: base.text } : undefined,
    takeTheirs: () => moveOn(written),
    takeMine: () => moveOn(text),
    takeBoth: () => {
      const merged = mineOnTheirs(text, base.text, written);
      setClashes(merged.clashes);
      moveOn(merged.text);
    },
    /** How often both had changed the same lines, when they were last brought together. */
    clashes,
    /** What was left here unsaved the last time. */
    offered: changed ? undefined : offered,
    takeOffered: () => {
      if (offered) set(() => offered.text);
      setOffered(undefined);
    },
    dropOffered: () => {
      dropDraft(me.name, thing);
      setOffered(undefined);
    },
    /** Whether this device had room for what is unsaved. */
    kept,
    /** It is saved, or not wanted: it may be left, and is not offered again. */
    forget,
  };
}

export type Edited = ReturnType<typeof useEdited>;
