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

export async function call<T>(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<Answer<T>> {
  const all: Record<string, string> = { Accept: "application/json", ...headers };
  if (body !== undefined) all["Content-Type"] = "application/json";
  if (method !== "GET") all["X-Gantrel-CSRF"] = csrf;
  let answer: Response;
  try {
    answer = await fetch(path, { method, headers: all, body: body === undefined ? undefined : JSON.stringify(body) });
  } catch {
    throw new Refused(0, "The service does not answer. It may be restarting; this page tries again by itself.", []);
  }
  const text = await answer.text();
  const parsed = text ? JSON.parse(text) : undefined;
  if (!answer.ok) {
    throw new Refused(
      answer.status,
      parsed?.detail ?? `The service answered with ${answer.status}.`,
      parsed?.problems ?? [],
    );
  }
  const link = answer.headers.get("Link")?.match(/<([^>]+)>;\s*rel="next"/)?.[1];
  return { body: parsed as T, next: link, tag: answer.headers.get("ETag") ?? undefined };
}

export async function get<T>(path: string): Promise<T> {
  return (await call<T>("GET", path)).body;
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
