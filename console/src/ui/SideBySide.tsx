import { yaml } from "@codemirror/lang-yaml";
import { MergeView } from "@codemirror/merge";
import { EditorState } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import { useEffect, useRef } from "react";
import { codeTheme } from "./codeTheme";

const BEFORE_AND_AFTER = ["The text before", "The text after"];

/** Two versions of a text beside each other, to be read; what is alike and far from a difference is folded. */
export default function SideBySide({
  left,
  right,
  labels = BEFORE_AND_AFTER,
  plain = false,
}: {
  left: string;
  right: string;
  labels?: string[];
  /** Text of no kind, instead of a definition. */
  plain?: boolean;
}) {
  const place = useRef<HTMLDivElement>(null);
  const theme = useTheme();
  useEffect(() => {
    if (!place.current) return;
    const side = (doc: string, label: string) => ({
      doc,
      extensions: [
        ...(plain ? [] : [yaml()]),
        codeTheme(theme),
        EditorState.readOnly.of(true),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ "aria-label": label }),
      ],
    });
    const view = new MergeView({
      a: side(left, labels[0]),
      b: side(right, labels[1]),
      parent: place.current,
      gutter: true,
      collapseUnchanged: { margin: 3, minSize: 6 },
    });
    return () => view.destroy();
  }, [left, right, labels, plain, theme]);
  return (
    <Box
      ref={place}
      tabIndex={0}
      role="region"
      aria-label="Both texts"
      sx={{ maxHeight: "50vh", overflow: "auto", bgcolor: "background.paper", p: 0.5 }}
    />
  );
}
