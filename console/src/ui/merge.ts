import { diff3Merge } from "node-diff3";

/** Both people's changes to a text; where they changed the same lines, mine stand, and it is told how often. */
export function mineOnTheirs(mine: string, base: string, theirs: string): { text: string; clashes: number } {
  const lines: string[] = [];
  let clashes = 0;
  for (const part of diff3Merge(mine.split("\n"), base.split("\n"), theirs.split("\n"))) {
    if (part.ok) lines.push(...part.ok);
    if (part.conflict) {
      const { a, o, b } = part.conflict;
      const byLine = lineByLine(a, o, b);
      if (!byLine) clashes++;
      lines.push(...(byLine ?? a));
    }
  }
  return { text: lines.join("\n"), clashes };
}

/** Changes to lines beside each other: nobody's is lost where each line was changed by one of both only. */
function lineByLine(mine: string[], base: string[], theirs: string[]): string[] | undefined {
  if (mine.length !== base.length || theirs.length !== base.length) return undefined;
  const merged: string[] = [];
  for (const [index, line] of base.entries()) {
    if (mine[index] === line) merged.push(theirs[index]);
    else if (theirs[index] === line || theirs[index] === mine[index]) merged.push(mine[index]);
    else return undefined;
  }
  return merged;
}
