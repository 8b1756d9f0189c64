import { layOut } from "./layout";
import type { ChainStep } from "./model";

/** Lays out large chains beside the page, which goes on meanwhile. */
addEventListener("message", (event: MessageEvent<{ shape: string; steps: ChainStep[] }>) => {
  const { shape, steps } = event.data;
  postMessage({ shape, laid: layOut(steps) });
});
