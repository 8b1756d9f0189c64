type Given = { results?: Record<string, string> };

const NUMBER = /^-?\d+(\.\d+)?(e[+-]?\d+)?$/i;

/** A value of a run as a number; nothing where it is none, or not there. */
export function numberOf(run: Given, name: string): number | undefined {
  const text = run.results?.[name];
  const number = text !== undefined && NUMBER.test(text) ? Number(text) : Number.NaN;
  return Number.isFinite(number) ? number : undefined;
}

/** The values that can be compared over runs: those that are numbers in at least two of them. */
export function comparable(runs: Given[]): string[] {
  const counts = new Map<string, number>();
  for (const run of runs) {
    for (const name of Object.keys(run.results ?? {})) {
      if (numberOf(run, name) !== undefined) counts.set(name, (counts.get(name) ?? 0) + 1);
    }
  }
  return [...counts].filter(([, count]) => count > 1).map(([name]) => name);
}
