import { yaml } from "@codemirror/lang-yaml";
import { MergeView } from "@codemirror/merge";
import { EditorState } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import { useEffect, useRef } from "react";
import { codeTheme } from "./codeTheme";

/** Two versions of a text beside each other, to be read; what is alike and far from a difference is folded. */
export default function SideBySide({ left, right }: { left: string; right: string }) {
  const place = useRef<HTMLDivElement>(null);
  const theme = useTheme();
  useEffect(() => {
    if (!place.current) return;
    const side = (doc: string, label: string) => ({
      doc,
      extensions: [
        yaml(),
        codeTheme(theme),
        EditorState.readOnly.of(true),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ "aria-label": label }),
      ],
    });
    const view = new MergeView({
      a: side(left, "The text before"),
      b: side(right, "The text after"),
      parent: place.current,
      gutter: true,
      collapseUnchanged: { margin: 3, minSize: 6 },
    });
    return () => view.destroy();
  }, [left, right, theme]);
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
