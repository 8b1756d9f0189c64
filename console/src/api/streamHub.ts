/**
 * One stream of the service for all tabs of a browser. A tab says what it wants to hear of; the stream is open while any
 * tab is in sight, and is opened anew, from where it was, when the logs that are followed are others.
 */

/** What a tab says. */
export type Said =
  | { kind: "here"; visible: boolean; logs: { run: number; at: number }[] }
  | { kind: "again" }
  | { kind: "bye" };

/** What a tab is told. */
export type Told = { kind: "event"; topic: string; data: unknown } | { kind: "state"; live: boolean; since: number };

export type Port = { postMessage: (told: Told) => void };

/** What of EventSource is needed, so that tests can give another. */
export type Source = {
  addEventListener: (topic: string, heard: (event: { data: string; lastEventId: string }) => void) => void;
  onopen: (() => void) | null;
  onerror: (() => void) | null;
  close: () => void;
};

type Tab = { port: Port; visible: boolean; logs: Map<number, number>; heardAt: number };

/** A tab that has said nothing for so long is gone; each in sight says every 20 s that it is there. */
const GONE_AFTER = 60_000;
/** So long the stream stays open with no tab in sight: somebody only changes from one tab to another. */
const LINGER = 5_000;
const PAUSES = [1_000, 2_000, 5_000, 10_000, 15_000];

export class StreamHub {
  private readonly tabs = new Set<Tab>();
  private source: Source | undefined;
  private address = "";
  private position = "";
  private live = false;
  private since = Date.now();
  private tries = 0;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private linger: ReturnType<typeof setTimeout> | undefined;
  /** How far each followed log has come through. */
  private readonly came = new Map<number, number>();

  constructor(
    private readonly open: (address: string) => Source,
    private readonly topics: string[],
  ) {}

  /** Takes a tab in; what comes back takes what the tab says. */
  add(port: Port): (said: Said) => void {
    const tab: Tab = { port, visible: false, logs: new Map(), heardAt: Date.now() };
    this.tabs.add(tab);
    port.postMessage({ kind: "state", live: this.live, since: this.since });
    return (said) => this.hear(tab, said);
  }

  private hear(tab: Tab, said: Said) {
    tab.heardAt = Date.now();
    if (said.kind === "bye") {
      this.tabs.delete(tab);
    } else if (said.kind === "again") {
      this.tries = 0;
      if (!this.live) this.shut();
    } else {
      this.tabs.add(tab);
      tab.visible = said.visible;
      const logs = new Map(said.logs.map(({ run, at }) => [run, at]));
      for (const [run, at] of logs) {
        // whoever begins to follow says from where; the earliest that anybody wants is asked for
        const known = this.came.get(run);
        if (!tab.logs.has(run)) this.came.set(run, known === undefined ? at : Math.min(known, at));
      }
      tab.logs = logs;
    }
    this.settle();
  }

  /** Opens, opens anew or shuts the stream, as it is wanted now. */
  private settle() {
    const now = Date.now();
    for (const tab of this.tabs) {
      if (tab.visible && now - tab.heardAt > GONE_AFTER) this.tabs.delete(tab);
    }
    const seen = [...this.tabs].filter((tab) => tab.visible);
    clearTimeout(this.linger);
    if (seen.length === 0) {
      this.linger = setTimeout(() => this.shut(), LINGER);
      return;
    }
    const runs = [...new Set(seen.flatMap((tab) => [...tab.logs.keys()]))].sort((a, b) => a - b).slice(0, 10);
    for (const run of this.came.keys()) {
      if (!runs.includes(run)) this.came.delete(run);
    }
    const wanted = runs.join(",");
    if (this.source && wanted === this.address) return;
    this.shut();
    this.address = wanted;
    this.begin(runs);
  }

  private begin(runs: number[]) {
    const asked = new URLSearchParams();
    if (this.position) asked.set("after", this.position);
    for (const run of runs) asked.append("log", `${run}@${this.came.get(run) ?? 0}`);
    const source = this.open(`/api/v1/events${asked.size > 0 ? `?${asked}` : ""}`);
    this.source = source;
    source.onopen = () => {
      this.tries = 0;
      this.say(true);
    };
    source.onerror = () => {
      // not left to the browser: it would ask for the logs from where they were long ago
      this.shut();
      const pause = PAUSES[Math.min(this.tries++, PAUSES.length - 1)];
      this.retry = setTimeout(() => this.settle(), pause);
    };
    for (const topic of this.topics) {
      source.addEventListener(topic, ({ data, lastEventId }) => {
        if (this.source !== source) return;
        if (lastEventId) this.position = lastEventId;
        this.tell(topic, JSON.parse(data));
      });
    }
  }

  private tell(topic: string, data: unknown) {
    if (topic.startsWith("log.")) {
      const { run, to } = data as { run: number; to?: number };
      this.came.set(run, topic === "log.try" ? 0 : (to ?? this.came.get(run) ?? 0));
      for (const tab of this.tabs) {
        if (tab.logs.has(run)) tab.port.postMessage({ kind: "event", topic, data });
      }
      return;
    }
    for (const tab of this.tabs) tab.port.postMessage({ kind: "event", topic, data });
  }

  private shut() {
    clearTimeout(this.retry);
    this.source?.close();
    this.source = undefined;
    this.address = "";
    this.say(false);
  }

  private say(live: boolean) {
    if (live === this.live) return;
    this.live = live;
    this.since = Date.now();
    for (const tab of this.tabs) tab.port.postMessage({ kind: "state", live, since: this.since });
  }
}
