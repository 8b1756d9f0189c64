export type Hits = { lines: number[]; next?: number | null };

/**
 * The lines that are found over all of a log. The service searches for a few seconds at a time and says where to go on.
 *
 * @param part looks from a line on for so many lines at most
 */
export async function allHits(
  part: (from: number, limit: number) => Promise<Hits>,
  most: number,
  leave: { aborted: boolean },
): Promise<Hits> {
  const lines: number[] = [];
  let next: number | null | undefined = 0;
  while (typeof next === "number" && lines.length < most && !leave.aborted) {
    const found: Hits = await part(next, most - lines.length);
    lines.push(...found.lines);
    next = found.next;
  }
  return { lines, next };
}
