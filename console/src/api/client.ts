import { signedInAgain } from "./session";
import type { Wrong } from "./types";

/** A call that the service turned down, with all that is wrong (RFC 9457). */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly problems: Wrong[],
  ) {
    super(message);
  }
}

let csrf = "";

/** The token that shows that a call comes from this console; it is known once somebody is signed in. */
export function keepCsrf(token: string) {
  csrf = token;
}

export type Answer<T> = { body: T; next?: string; tag?: string };

const SILENT = "The service does not answer. It may be restarting; this page tries again by itself.";
const SESSIONS = "/api/v1/sessions";

/** Whether a call came to nothing for something that passes, such as a service that restarts or is busy, so that it may be made again. */
export const isPassing = (error: unknown) => error instanceof Refused && [0, 429, 502, 503, 504].includes(error.status);

/** What a body says; undefined where it is not JSON, such as the error page of something in between. */
function parsed(text: string): { value: unknown } | undefined {
  if (!text) return { value: undefined };
  try {
    return { value: JSON.parse(text) };
  } catch {
    return undefined;
  }
}

export async function call<T>(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<Answer<T>> {
  let answer = await asked(method, path, body, headers);
  if (answer.status === 401 && !path.startsWith(SESSIONS) && (await signedInAgain())) {
    answer = await asked(method, path, body, headers);
  }
  const said = parsed(await answer.text().catch(() => "?"));
  if (!answer.ok) {
    const problem = said?.value as { detail?: string; problems?: Wrong[] } | undefined;
    throw new Refused(
      answer.status,
      problem?.detail ?? (answer.status >= 502 ? SILENT : `The service answered with ${answer.status}.`),
      problem?.problems ?? [],
    );
  }
  // something in between answered in the service's place
  if (!said) throw new Refused(0, SILENT, []);
  const link = answer.headers.get("Link")?.match(/<([^>]+)>;\s*rel="next"/)?.[1];
  return { body: said.value as T, next: link, tag: answer.headers.get("ETag") ?? undefined };
}

async function asked(method: string, path: string, body: unknown, headers: Record<string, string>): Promise<Response> {
  const all: Record<string, string> = { Accept: "application/json", ...headers };
  if (body !== undefined) all["Content-Type"] = "application/json";
  if (method !== "GET") all["X-Gantrel-CSRF"] = csrf;
  try {
    return await fetch(path, { method, headers: all, body: body === undefined ? undefined : JSON.stringify(body) });
  } catch {
    throw new Refused(0, SILENT, []);
  }
}

export async function get<T>(path: string): Promise<T> {
  return (await call<T>("GET", path)).body;
}

/** So many things of a list are read at most. */
const MOST_LISTED = 5_000;

/** All of a list that comes in pages, as far as it is not endless. */
export async function getAll<T>(path: string): Promise<T[]> {
  const all: T[] = [];
  let next: string | undefined = path;
  while (next && all.length < MOST_LISTED) {
    const page: Answer<T[]> = await call<T[]>("GET", next);
    all.push(...page.body);
    next = page.next;
  }
  return all;
}

/** A path with its parameters, the empty ones left out. */
export function withQuery(path: string, parameters: Record<string, string | number | undefined>): string {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(parameters)) {
    if (value !== undefined && value !== "") query.set(name, String(value));
  }
  const text = query.toString();
  return text ? `${path}?${text}` : path;
}
