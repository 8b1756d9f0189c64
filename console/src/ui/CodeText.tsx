import { autocompletion, closeBrackets, completionKeymap } from "@codemirror/autocomplete";
import { defaultKeymap, indentWithTab } from "@codemirror/commands";
import { yaml } from "@codemirror/lang-yaml";
import { bracketMatching, foldGutter, foldKeymap, indentOnInput, indentUnit } from "@codemirror/language";
import { type Diagnostic, lintGutter, lintKeymap, setDiagnostics } from "@codemirror/lint";
import { highlightSelectionMatches, search, searchKeymap } from "@codemirror/search";
import { Compartment, EditorState } from "@codemirror/state";
import {
  drawSelection,
  EditorView,
  highlightActiveLine,
  hoverTooltip,
  keymap,
  lineNumbers,
  placeholder,
} from "@codemirror/view";
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import { useEffect, useRef } from "react";
import type { Wrong } from "../api/types";
import { codeTheme } from "./codeTheme";
import { completeWords, type Vocabulary, wordHelp } from "./yamlWords";

/** Milliseconds until what was drawn before is surely seen. */
const NEXT_FRAME = 30;

export type CodeTextProps = {
  value: string;
  label: string;
  onChange?: (value: string) => void;
  readOnly?: boolean;
  minLines?: number;
  /** What is wrong, at its lines. */
  problems?: Wrong[];
  /** The words of definitions, for completion and help. */
  words?: Vocabulary;
  hint?: string;
};

/** Where a problem stands in a text; one without a place stands at the first line. */
function diagnostic(view: EditorView, wrong: Wrong): Diagnostic {
  const { doc } = view.state;
  const line = doc.line(Math.min(Math.max(wrong.line ?? 1, 1), doc.lines));
  const from = Math.min(line.from + Math.max((wrong.column ?? 1) - 1, 0), line.to);
  const word = line.text.slice(from - line.from).match(/^[^\s:,\]}]+/)?.[0].length ?? 0;
  const message = wrong.field ? `${wrong.field}: ${wrong.message}` : wrong.message;
  return { from, to: Math.max(from + word, Math.min(from + 1, line.to)), severity: "error", message };
}

/** An editor for definitions: highlighting, folding, search (Ctrl+F), completion (Ctrl+Space), help on hover, errors in place. */
export default function CodeText({
  value,
  label,
  onChange,
  readOnly,
  minLines = 8,
  problems,
  words,
  hint,
}: CodeTextProps) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const heard = useRef(onChange);
  const vocabulary = useRef(words);
  const awaited = useRef(() => {});
  const look = useRef(new Compartment());
  const theme = useTheme();
  heard.current = onChange;
  vocabulary.current = words;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the editor is made once; what changes is told to it below
  useEffect(() => {
    if (!place.current) return;
    const made = new EditorView({
      doc: value,
      parent: place.current,
      extensions: [
        lineNumbers(),
        foldGutter(),
        drawSelection(),
        highlightActiveLine(),
        highlightSelectionMatches(),
        bracketMatching(),
        closeBrackets(),
        indentOnInput(),
        indentUnit.of("  "),
        lintGutter(),
        search({ top: true }),
        yaml(),
        autocompletion({ override: [(context) => completeWords(context, vocabulary.current)] }),
        hoverTooltip((at, position) => wordHelp(at, position, vocabulary.current)),
        // undo and redo are those of the page, which also knows what its form changed
        keymap.of([
          ...completionKeymap,
          ...searchKeymap,
          ...foldKeymap,
          ...lintKeymap,
          ...defaultKeymap,
          indentWithTab,
        ]),
        look.current.of(codeTheme(theme)),
        EditorState.readOnly.of(readOnly ?? false),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ "aria-label": label, spellcheck: "false" }),
        placeholder(hint ?? ""),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) heard.current?.(update.state.doc.toString());
        }),
      ],
    });
    view.current = made;
    return () => made.destroy();
  }, []);
  useEffect(() => {
    const bring = () => {
      const at = view.current;
      if (at && at.state.doc.toString() !== value) at.dispatch({ changes: least(at.state.doc.toString(), value) });
    };
    awaited.current = bring;
    // while nobody types here, what the form changed may come a moment later: drawing both at once makes a long task
    if (view.current?.hasFocus) return bring();
    const soon = setTimeout(bring, NEXT_FRAME);
    return () => clearTimeout(soon);
  }, [value]);
  useEffect(() => view.current?.dispatch({ effects: look.current.reconfigure(codeTheme(theme)) }), [theme]);
  useEffect(() => {
    const at = view.current;
    awaited.current();
    if (at)
      at.dispatch(
        setDiagnostics(
          at.state,
          (problems ?? []).map((wrong) => diagnostic(at, wrong)),
        ),
      );
  }, [problems]);
  return (
    <Box
      ref={place}
      sx={{
        "& .cm-editor": { minHeight: `${minLines * 1.45}em` },
        "& .cm-scroller": { overflow: "auto" },
        minWidth: 0,
      }}
    />
  );
}

/** The smallest change that makes one text the other, so that the cursor stays where it is. */
function least(before: string, after: string) {
  let from = 0;
  const most = Math.min(before.length, after.length);
  while (from < most && before[from] === after[from]) from++;
  let end = 0;
  while (end < most - from && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
  return { from, to: before.length - end, insert: after.slice(from, after.length - end) };
}
