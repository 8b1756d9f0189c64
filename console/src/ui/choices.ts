import { useSyncExternalStore } from "react";
import { call } from "../api/client";

/*
 * How somebody likes things to be shown. It is kept with the account, so that it is the same on every device. What was
 * chosen on this device before that was so holds where the account says nothing.
 */

const OLD = "gantrel.";
const LONGEST_NAME = 80;

let person = "";
let account: Record<string, string> = {};
/** Chosen here and not yet kept: what the service says meanwhile is older. */
const underway = new Map<string, string>();
const listeners = new Set<() => void>();

function changed() {
  for (const listener of listeners) listener();
}

/** Takes what the service keeps for whoever is signed in. */
export function takeChoices({ name, choices }: { name: string; choices: Record<string, string> }) {
  if (name !== person) underway.clear();
  person = name;
  account = choices;
  changed();
}

/** What was chosen under a name; nothing where nothing was. */
export function choice(name: string): string | undefined {
  return underway.get(name) ?? account[choiceName(name)] ?? onThisDevice(name) ?? undefined;
}

function onThisDevice(name: string): string | null {
  return typeof localStorage === "undefined" ? null : localStorage.getItem(OLD + name);
}

/** Chooses, from now on and on all devices; where the service cannot be reached it holds until the page is left. */
export async function choose(name: string, chosen: string) {
  underway.set(name, chosen);
  changed();
  try {
    account = (await call<Record<string, string>>("PUT", `/api/v1/me/choices/${choiceName(name)}`, { chosen })).body;
    localStorage.removeItem(OLD + name);
    if (underway.get(name) === chosen) underway.delete(name);
    changed();
  } catch {
    // it is shown as chosen all the same; that it was not kept hurts nobody
  }
}

/** The name that the service knows it by: small letters, digits and a few signs. */
export function choiceName(name: string): string {
  return name
    .toLowerCase()
    .replace(/[^a-z0-9.:-]+/g, "-")
    .replace(/^[^a-z0-9]+/, "")
    .slice(0, LONGEST_NAME);
}

/** A choice of whoever is signed in, and how to make it. */
export function useChoice<T extends string>(name: string, usual: T): [T, (next: T) => void] {
  const chosen = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => choice(name),
  );
  return [(chosen as T | undefined) ?? usual, (next) => void choose(name, next)];
}
