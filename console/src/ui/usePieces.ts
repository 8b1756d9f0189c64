import { startTransition, useEffect, useState } from "react";

const AT_ONCE = 2;

/**
 * How many of many costly pieces to draw by now: a few more with each frame, so that no frame waits for all of them.
 *
 * @param of what they are of; with another they begin anew
 */
export function usePieces(all: number, of: string): number {
  const [drawn, setDrawn] = useState({ of, many: 0 });
  const many = drawn.of === of ? drawn.many : 0;
  useEffect(() => {
    if (many >= all) return;
    const frame = requestAnimationFrame(() => startTransition(() => setDrawn({ of, many: many + AT_ONCE })));
    return () => cancelAnimationFrame(frame);
  }, [many, all, of]);
  return Math.min(many, all);
}
