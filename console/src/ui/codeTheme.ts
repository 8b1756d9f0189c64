import { HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import type { Extension } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import type { Theme } from "@mui/material/styles";
import { MONO } from "../theme";

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "";

/** Texts in the console's own look; the page's policy lets in no style without its nonce. */
export function codeTheme({ palette }: Theme): Extension {
  const { text, primary, divider, outcome, background } = palette;
  const look = EditorView.theme(
    {
      "&": { fontSize: "0.8rem", backgroundColor: "transparent", color: text.primary },
      "&.cm-focused": { outline: `2px solid ${primary.main}`, outlineOffset: "2px" },
      ".cm-content": { fontFamily: MONO, caretColor: text.primary },
      ".cm-cursor": { borderLeftColor: text.primary },
      ".cm-gutters": { backgroundColor: "transparent", color: text.secondary, border: "none", fontFamily: MONO },
      ".cm-activeLine, .cm-activeLineGutter": { backgroundColor: palette.action.hover },
      "&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground": {
        backgroundColor: palette.mode === "dark" ? "#2f4f58" : "#cfe3e6",
      },
      ".cm-tooltip, .cm-panels": {
        backgroundColor: background.paper,
        color: text.primary,
        border: `1px solid ${divider}`,
      },
      ".cm-tooltip-autocomplete ul li[aria-selected]": { backgroundColor: primary.main, color: primary.contrastText },
      ".cm-completionInfo": { maxWidth: "320px", whiteSpace: "normal" },
      ".cm-diagnostic": { fontFamily: "inherit", whiteSpace: "normal", maxWidth: "520px" },
      ".cm-changedText": { background: "none !important", textDecoration: `underline 2px ${outcome.amber}` },
      ".cm-searchMatch": { backgroundColor: palette.mode === "dark" ? "#5d4a10" : "#f5e2a8" },
      ".cm-foldPlaceholder": { backgroundColor: "transparent", color: text.secondary, borderColor: divider },
    },
    { dark: palette.mode === "dark" },
  );
  const words = HighlightStyle.define([
    { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: primary.main, fontWeight: "600" },
    { tag: [tags.comment, tags.lineComment], color: text.secondary, fontStyle: "italic" },
    { tag: [tags.number, tags.bool, tags.null, tags.atom], color: palette.success.main },
    { tag: [tags.punctuation, tags.separator, tags.brace, tags.squareBracket], color: text.secondary },
    { tag: tags.invalid, color: palette.error.main },
  ]);
  return [EditorView.cspNonce.of(nonce), look, syntaxHighlighting(words)];
}
