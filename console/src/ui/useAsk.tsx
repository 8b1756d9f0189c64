import { type ReactNode, useState } from "react";
import { Ask } from "./Ask";

type Question = { title: string; deed: string; text?: ReactNode; onYes: () => void };

/** Asks in a dialog of the page before something is done; the question has to stand somewhere on the page. */
export function useAsk() {
  const [asked, setAsked] = useState<Question>();
  const close = () => setAsked(undefined);
  const question = asked && (
    <Ask
      title={asked.title}
      deed={asked.deed}
      onClose={close}
      onYes={() => {
        close();
        asked.onYes();
      }}
    >
      {asked.text}
    </Ask>
  );
  return { ask: setAsked, question };
}
