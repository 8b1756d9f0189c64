import { pathAt } from "./yamlWords";

/** A place within braces: the keys above it, those beside it, and what was typed there so far. */
export type Flow = {
  path: string[];
  beside: string[] /** Whose value it is; nothing where a key goes. */;
  key?: string;
  typed: string;
};

type Open = { brace: "{" | "["; keys: string[]; key?: string };

/**
 * Where one is within a collection in flow style (YAML 1.2, 7.4), such as {@code schedules: [ { name: nightly, | } ]};
 * nothing outside of one. Quoted texts and comments hide what is in them.
 */
export function flowAt(lines: string[], line: number, column: number): Flow | undefined {
  let first = line;
  while (first > 0 && !/^---/.test(lines[first])) first--;
  const scan = new Scan(lines);
  for (let at = first; at < lines.length && (at <= line || scan.isInside()); at++) {
    if (at > line && /^---/.test(lines[at])) break;
    scan.begin(at);
    for (let col = 0; col <= lines[at].length; col++) {
      if (at === line && col === Math.min(column, lines[at].length)) scan.stop();
      if (at > line && !scan.isInside()) break;
      if (col < lines[at].length && !scan.take(at, col)) break;
    }
    scan.endLine();
  }
  return scan.found();
}

class Scan {
  private stack: Open[] = [];
  private outer: string[] = [];
  private opener = 0;
  private token = "";
  private quote = "";
  private here?: { open: Open; flow: Flow };

  constructor(private readonly lines: string[]) {}

  /** Whatever stands as far left as the line that opened the collection is not in it: somebody has yet to close it. */
  begin(at: number) {
    const text = this.lines[at];
    const left = text.search(/\S/);
    if (this.stack.length > 0 && left >= 0 && left <= this.lines[this.opener].search(/\S/)) {
      this.stack = [];
      this.quote = "";
    }
    if (this.stack.length === 0) this.token = "";
  }

  endLine() {
    if (this.stack.length === 0) this.quote = "";
    else this.token += " ";
  }

  /** Whether the place that is asked for has been met, and what it is in goes on. */
  isInside(): boolean {
    return this.here !== undefined && this.stack.includes(this.here.open);
  }

  stop() {
    const open = this.stack.at(-1);
    if (!open || this.quote) return;
    const path = [...this.outer, ...this.stack.slice(0, -1).flatMap((each) => each.key ?? [])];
    this.here = { open, flow: { path, beside: open.keys, key: open.key, typed: this.token.trimStart() } };
  }

  found(): Flow | undefined {
    return this.here?.open.brace === "{" ? this.here.flow : undefined;
  }

  /** Takes a character; false where the rest of the line is a comment. */
  take(at: number, col: number): boolean {
    const text = this.lines[at];
    const char = text[col];
    if (this.quote) {
      if (char === this.quote && !(char === '"' && text[col - 1] === "\\")) this.quote = "";
      this.token += char;
      return true;
    }
    const open = this.stack.at(-1);
    const fresh = () => this.token.trim() === "";
    if (char === "#" && (col === 0 || /\s/.test(text[col - 1]))) return false;
    if ((char === '"' || char === "'") && fresh()) this.quote = char;
    if ((char === "{" || char === "[") && fresh()) this.open(char, at, col);
    else if (open && (char === "}" || char === "]")) this.close();
    else if (open && char === ",") this.next(open);
    else if (char === ":" && /^(\s|$)/.test(text.slice(col + 1))) this.value(open);
    else if (!open && char === "-" && fresh()) this.token = "";
    else this.token += char;
    return true;
  }

  private open(brace: "{" | "[", at: number, col: number) {
    if (this.stack.length === 0) {
      const text = this.lines[at];
      const key = text.slice(0, col).match(/([A-Za-z][\w-]*):\s*$/);
      const left = text.match(/^(\s*(?:- +)*)/)?.[1].length ?? 0;
      this.opener = at;
      this.outer = [...pathAt(this.lines, at, left), ...(key ? [key[1]] : [])];
    }
    this.stack.push({ brace, keys: [] });
    this.token = "";
  }

  private close() {
    this.stack.pop();
    // what follows is no start of anything, until a comma
    this.token = this.stack.length > 0 ? "." : "";
  }

  private next(open: Open) {
    open.key = undefined;
    this.token = "";
  }

  private value(open: Open | undefined) {
    if (open?.brace === "{" && open.key === undefined) {
      open.key = this.token.trim().replace(/^(["'])(.*)\1$/, "$2");
      open.keys.push(open.key);
    }
    this.token = "";
  }
}
