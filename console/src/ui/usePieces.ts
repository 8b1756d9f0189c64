import { startTransition, useEffect, useState } from "react";

const AT_ONCE = 2;

/**
 * How many of many costly pieces to draw by now: a few more with each frame, so that no frame waits for all of them.
 *
 * @param of what they are of; with another they begin anew
 * @param atOnce how many with each frame
 */
export function usePieces(all: number, of: string, atOnce = AT_ONCE): number {
  const [drawn, setDrawn] = useState({ of, many: 0 });
  const many = drawn.of === of ? drawn.many : 0;
  useEffect(() => {
    if (many >= all) return;
    const frame = requestAnimationFrame(() => startTransition(() => setDrawn({ of, many: many + atOnce })));
    return () => cancelAnimationFrame(frame);
  }, [many, all, of, atOnce]);
  return Math.min(many, all);
}
