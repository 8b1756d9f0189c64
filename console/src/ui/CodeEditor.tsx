import { lazy, Suspense } from "react";
import type { CodeTextProps } from "./CodeText";
import { LinesComing } from "./LinesComing";

const CodeText = lazy(() => import("./CodeText"));

/** A text with its editor, which comes when it is first needed. */
export function CodeEditor(props: CodeTextProps) {
  return (
    <Suspense fallback={<LinesComing text={props.value} minLines={props.minLines ?? 8} />}>
      <CodeText {...props} />
    </Suspense>
  );
}
