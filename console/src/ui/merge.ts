import { diff3Merge } from "node-diff3";

/** Both people's changes to a text; where they changed the same lines, mine stand, and it is told how often. */
export function mineOnTheirs(mine: string, base: string, theirs: string): { text: string; clashes: number } {
  const lines: string[] = [];
  let clashes = 0;
  for (const part of diff3Merge(mine.split("\n"), base.split("\n"), theirs.split("\n"))) {
    if (part.ok) lines.push(...part.ok);
    if (part.conflict) {
      clashes++;
      lines.push(...part.conflict.a);
    }
  }
  return { text: lines.join("\n"), clashes };
}
