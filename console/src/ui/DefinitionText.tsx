import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { call, get, Refused } from "../api/client";
import type { Wrong } from "../api/types";
import { CodeEditor } from "./CodeEditor";
import type { Vocabulary } from "./yamlWords";

type Props = {
  text: string;
  onChange?: (text: string) => void;
  minLines?: number;
  readOnly?: boolean;
  /** What a save was refused for; shown at its lines until the text is another. */
  error?: unknown;
};

const NONE: Wrong[] = [];

/** A definition as text: its words are completed and explained, and what is wrong stands at its line while one types. */
export function DefinitionText({ text, onChange, minLines = 22, readOnly = false, error }: Props) {
  const words = useQuery({
    queryKey: ["definition-words"],
    queryFn: () => get<Vocabulary>("/api/v1/definition-words"),
    staleTime: Number.POSITIVE_INFINITY,
    enabled: !readOnly,
  });
  const asked = useDeferredValue(text);
  const check = useQuery({
    queryKey: ["definition-check", asked],
    queryFn: async ({ signal }) => {
      // whoever goes on typing is not asked for
      await new Promise((resolve) => setTimeout(resolve, 350));
      if (signal.aborted) return NONE;
      return (await call<Wrong[]>("POST", "/api/v1/definition-checks", { definition: asked })).body;
    },
    enabled: !readOnly && asked.trim() !== "",
    placeholderData: (before) => before,
    gcTime: 30_000,
    retry: false,
  });
  const refused = error instanceof Refused ? error.problems : NONE;
  const problems = refused.length > 0 ? refused : (check.data ?? NONE);
  return (
    <CodeEditor
      value={text}
      label="Definition as YAML"
      onChange={onChange}
      readOnly={readOnly}
      minLines={minLines}
      problems={readOnly ? NONE : problems}
      words={words.data}
    />
  );
}
