import { useSyncExternalStore } from "react";

/**
 * Whether the session has ended under a page that is open. Calls that were refused for it wait until somebody has
 * signed in again, and are then made once more: nothing on the page is lost.
 */
type Waiting = { goOn: () => void; giveUp: () => void };

let signedIn = false;
let waiting: Waiting[] = [];
const listeners = new Set<() => void>();

const tell = () => {
  for (const listener of listeners) listener();
};

/** Somebody is signed in: a refusal from now on means that their session has ended. */
export function sessionBegan() {
  signedIn = true;
  const all = waiting;
  waiting = [];
  for (const each of all) each.goOn();
  tell();
}

/** Whoever sits there does not want to go on; what waits is refused. */
export function sessionLeft() {
  signedIn = false;
  const all = waiting;
  waiting = [];
  for (const each of all) each.giveUp();
  tell();
}

/** Waits until somebody has signed in again; false where nobody was signed in or nobody wants to. */
export function signedInAgain(): Promise<boolean> {
  if (!signedIn) return Promise.resolve(false);
  return new Promise((resolve) => {
    waiting = [...waiting, { goOn: () => resolve(true), giveUp: () => resolve(false) }];
    tell();
  });
}

export function useSessionEnded(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => waiting.length > 0,
  );
}
