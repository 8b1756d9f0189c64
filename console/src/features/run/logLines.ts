import { get, isPassing, withQuery } from "../../api/client";
import { followLog, onTold } from "../../api/stream";

/** The lines of a log as far as they are known here: in blocks that are asked for as they come into view. */
export const BLOCK = 500;
/** So many blocks are kept; those that were looked at longest ago go first. */
const KEPT = 60;
/** After so long a look that came to nothing for something that passes is made again. */
const AGAIN = 2_000;

type Answer = { attempt: number; from: number; total: number; bytes: number; lines: string[] };
type Piece = { run: number; attempt: number; text: string; from: number; to: number };

export type LogShown = {
  total: number;
  attempt: number;
  live: boolean;
  known: boolean;
  error?: Error;
  version: number;
};

export class LogLines {
  private readonly blocks = new Map<number, string[]>();
  private readonly asked = new Set<number>();
  private readonly listeners = new Set<() => void>();
  private shown: LogShown = { total: 0, attempt: 1, live: false, known: false, version: 0 };
  private bytes = 0;
  private unfollow: (() => void) | undefined;
  private deaf: (() => void) | undefined;
  private told = false;

  constructor(
    readonly run: number,
    private readonly attempt: number | undefined,
    private readonly onEnd: () => void,
  ) {}

  /** Asks for the end first, and goes on with what comes. */
  open(follow: boolean) {
    this.deaf = onTold((topic, data) => this.hear(topic, data));
    void this.readEnd(follow);
  }

  close() {
    this.unfollow?.();
    this.deaf?.();
    this.unfollow = undefined;
    this.deaf = undefined;
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = () => this.shown;

  line(number: number): string | undefined {
    return this.blocks.get(Math.floor(number / BLOCK))?.[number % BLOCK];
  }

  /** Asks for lines that are in view and not here yet. */
  want(first: number, last: number) {
    for (let block = Math.floor(first / BLOCK); block <= Math.floor(last / BLOCK); block++) {
      const known = this.blocks.get(block);
      if (known) {
        this.blocks.delete(block);
        this.blocks.set(block, known);
      } else if (!this.asked.has(block) && block * BLOCK < this.shown.total) {
        void this.read(block);
      }
    }
  }

  private address(from: number, count: number) {
    return withQuery(`/api/v1/runs/${this.run}/log/lines`, { from, count, try: this.attempt });
  }

  private async readEnd(follow: boolean) {
    try {
      const answer = await get<Answer>(this.address(-BLOCK, BLOCK));
      this.blocks.clear();
      this.asked.clear();
      this.bytes = answer.bytes;
      this.take(answer);
      this.set({ total: answer.total, attempt: answer.attempt, known: true, error: undefined });
      if (follow && this.deaf) {
        this.unfollow?.();
        this.unfollow = followLog(this.run, this.bytes);
        this.set({ live: true });
      }
    } catch (error) {
      this.set({ error: error as Error, known: true });
      if (isPassing(error)) setTimeout(() => this.deaf && void this.readEnd(follow), AGAIN);
    }
  }

  private async read(block: number) {
    this.asked.add(block);
    try {
      this.take(await get<Answer>(this.address(block * BLOCK, BLOCK)));
      this.asked.delete(block);
      this.set({ error: undefined });
    } catch (error) {
      this.set({ error: error as Error });
      // a block that could not be read stays asked for: what is in view must not ask for it again at once
      if (isPassing(error)) {
        setTimeout(() => {
          this.asked.delete(block);
          this.set({});
        }, AGAIN);
      }
    }
  }

  /** Puts lines in their blocks; only whole blocks, and the last one, are of use. */
  private take({ from, lines, total }: Answer) {
    for (const [index, line] of lines.entries()) {
      const number = from + index;
      const block = Math.floor(number / BLOCK);
      const known = this.blocks.get(block) ?? [];
      known[number % BLOCK] = line;
      this.blocks.set(block, known);
    }
    // a block whose beginning is missing is asked for when it comes into view
    const first = Math.floor(from / BLOCK);
    if (from % BLOCK !== 0 && this.blocks.get(first)?.[0] === undefined && total > BLOCK) void this.read(first);
    for (const block of this.blocks.keys()) {
      if (this.blocks.size <= KEPT) break;
      this.blocks.delete(block);
    }
  }

  private hear(topic: string, data: unknown) {
    const piece = data as Piece;
    if (piece?.run !== this.run || !this.unfollow) return;
    if (topic === "log.lines") this.append(piece);
    if (topic === "log.try") void this.readEnd(true);
    if (topic === "log.end") {
      this.unfollow();
      this.unfollow = undefined;
      this.set({ live: false });
      this.onEnd();
    }
  }

  private append({ text, from, to }: Piece) {
    if (to <= this.bytes) return;
    if (from !== this.bytes) {
      // a piece is missing between: the end is asked for again
      void this.readEnd(true);
      return;
    }
    this.bytes = to;
    const lines = text.replace(/\n$/, "").split("\n");
    if (text === "") return;
    const { total } = this.shown;
    this.take({ attempt: 0, from: total, lines, total: total + lines.length, bytes: to });
    this.shown = { ...this.shown, total: total + lines.length };
    this.tellSoon();
  }

  /** Thousands of lines in a second are shown a frame at a time. */
  private tellSoon() {
    if (this.told) return;
    this.told = true;
    setTimeout(() => {
      this.told = false;
      this.set({});
    }, 60);
  }

  private set(change: Partial<LogShown>) {
    this.shown = { ...this.shown, ...change, version: this.shown.version + 1 };
    for (const listener of this.listeners) listener();
  }
}
