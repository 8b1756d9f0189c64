import { useSyncExternalStore } from "react";
import { type Said, type Source, StreamHub, type Told } from "./streamHub";
import { TOPICS } from "./topics";

/** This tab's end of the browser's one stream. */
type Heard = (topic: string, data: unknown) => void;

/** Whether what is shown is live, since when, and whether the stream has ever been open. */
export type Liveness = { live: boolean; since: number; ever: boolean };

const HERE_EVERY = 20_000;

let say: ((said: Said) => void) | undefined;
let liveness: Liveness = { live: false, since: Date.now(), ever: false };
const listeners = new Set<Heard>();
const watchers = new Set<() => void>();
const logs = new Map<number, number>();

function hear(told: Told) {
  if (told.kind === "state") {
    liveness = { live: told.live, since: told.since, ever: liveness.ever || told.live };
    for (const watcher of watchers) watcher();
    return;
  }
  for (const listener of listeners) listener(told.topic, told.data);
}

function connect(): (said: Said) => void {
  if (typeof SharedWorker !== "undefined") {
    const worker = new SharedWorker(new URL("./stream.worker.ts", import.meta.url), {
      type: "module",
      name: "gantrel-stream",
    });
    worker.port.onmessage = ({ data }: MessageEvent<Told>) => hear(data);
    return (said) => worker.port.postMessage(said);
  }
  const hub = new StreamHub((address) => new EventSource(address) as unknown as Source, Object.keys(TOPICS));
  return hub.add({ postMessage: (told) => queueMicrotask(() => hear(told)) });
}

const here = () =>
  say?.({
    kind: "here",
    visible: document.visibilityState === "visible",
    logs: [...logs].map(([run, at]) => ({ run, at })),
  });

/** Begins to listen; once, when somebody is signed in. */
export function openStream(): () => void {
  say ??= connect();
  here();
  const beat = setInterval(() => document.visibilityState === "visible" && here(), HERE_EVERY);
  const leave = () => say?.({ kind: "bye" });
  document.addEventListener("visibilitychange", here);
  window.addEventListener("pagehide", leave);
  window.addEventListener("pageshow", here);
  return () => {
    clearInterval(beat);
    leave();
    document.removeEventListener("visibilitychange", here);
    window.removeEventListener("pagehide", leave);
    window.removeEventListener("pageshow", here);
  };
}

/** Does not wait for the pause before the stream is tried again, for when somebody has just signed in. */
export const openStreamNow = () => say?.({ kind: "again" });

export function onTold(listener: Heard): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Follows a run's log from a byte on. */
export function followLog(run: number, at: number): () => void {
  logs.set(run, at);
  here();
  return () => {
    logs.delete(run);
    here();
  };
}

export function useLiveness(): Liveness {
  return useSyncExternalStore(
    (watcher) => {
      watchers.add(watcher);
      return () => watchers.delete(watcher);
    },
    () => liveness,
  );
}
