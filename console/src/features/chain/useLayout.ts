import { useEffect, useMemo, useState } from "react";
import { beside, type Laid, layOut } from "./layout";
import type { ChainStep } from "./model";

/** What is laid out within a frame. */
const SMALL = 30;

type Answer = { shape: string; laid: Laid };

/**
 * Where the steps of a chain stand. A large one is laid out by a worker; until it answers, what was there keeps its place and
 * what is new stands beside. Nothing before the first answer.
 */
export function useLayout(steps: ChainStep[]): Laid | undefined {
  // places change with the steps and their links alone, not with every second of a run
  const shape = JSON.stringify(steps.map((step) => [step.step, step.last, step.links]));
  const atOnce = steps.length <= SMALL || typeof Worker === "undefined";
  const [answer, setAnswer] = useState<Answer>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the shape stands for the steps
  useEffect(() => {
    if (atOnce) return;
    const worker = new Worker(new URL("./layout.worker.ts", import.meta.url), { type: "module" });
    worker.onmessage = (event: MessageEvent<Answer>) => setAnswer(event.data);
    // what they do and how they go is none of the layout's business
    worker.postMessage({ shape, steps: steps.map(({ step, last, links }) => ({ step, last, links })) });
    return () => worker.terminate();
  }, [shape, atOnce]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the shape stands for the steps
  return useMemo(() => {
    if (atOnce) return layOut(steps);
    if (!answer) return undefined;
    return answer.shape === shape ? answer.laid : beside(answer.laid, steps);
  }, [shape, atOnce, answer]);
}
