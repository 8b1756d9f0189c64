import Anser from "anser";

/** Words by which a line looks like an error; the service finds lines by the same. */
export const ERROR = /\b(error|fail(ed|ure)?|fatal|exception|refused|denied|missing|cannot)\b/i;

// biome-ignore lint/suspicious/noControlCharactersInRegex: an escape sequence begins with a control character
const ANSI = /\u001b\[[0-9;?]*[ -/]*[@-~]/g;

export const plain = (line: string) => (line.includes("\u001b") ? line.replace(ANSI, "") : line);

/** A stretch of a line in one colour. */
export type Stretch = { text: string; colour?: string; bold: boolean };

/** The stretches of a line, by its ANSI escape sequences (ECMA-48); what is no colour is left out. */
export function stretches(line: string): Stretch[] {
  if (!line.includes("\u001b")) return [{ text: line, bold: false }];
  return Anser.ansiToJson(line, { remove_empty: true, use_classes: true }).map((part) => ({
    text: plain(part.content),
    colour: part.fg?.replace(/^ansi-/, "").replace(/^bright-/, ""),
    bold: part.decoration === "bold",
  }));
}

/** Where a line stands in the address: {@code #line-120} or nothing. */
export function lineOf(hash: string): number | undefined {
  const found = hash.match(/^#line-(\d{1,9})$/)?.[1];
  return found ? Number(found) - 1 : undefined;
}

/** The next of some places, in order, after or before one; round the ends. */
export function nextOf(places: number[], at: number, step: 1 | -1): number | undefined {
  if (places.length === 0) return undefined;
  if (step === 1) return places.find((place) => place > at) ?? places[0];
  return places.findLast((place) => place < at) ?? places[places.length - 1];
}
