import { afterEach, describe, expect, it, vi } from "vitest";
import { call, get, getAll, isPassing, keepCsrf, Refused, withQuery } from "./client";
import { sessionBegan, sessionLeft } from "./session";

type Sent = { path: string; init: RequestInit };

function answering(status: number, body: unknown, headers: Record<string, string> = {}): Sent[] {
  const sent: Sent[] = [];
  vi.stubGlobal("fetch", async (path: string, init: RequestInit) => {
    sent.push({ path, init });
    return new Response(body === undefined ? null : JSON.stringify(body), { status, headers });
  });
  return sent;
}

afterEach(() => vi.unstubAllGlobals());

describe("A call of the console", () => {
  it("gives the body, the tag and the link to what is older", async () => {
    answering(200, [1], { ETag: '"r3"', Link: '</api/v1/runs?after=8>; rel="next"' });
    expect(await call("GET", "/api/v1/runs")).toEqual({ body: [1], tag: '"r3"', next: "/api/v1/runs?after=8" });
    answering(204, undefined);
    expect(await get("/api/v1/runs")).toBeUndefined();
  });

  it("shows where it comes from when it changes something, and only then", async () => {
    keepCsrf("the-token");
    const sent = answering(200, {});
    await call("GET", "/a");
    await call("POST", "/b", { x: 1 }, { "If-Match": '"r1"' });
    expect(sent[0].init.headers).not.toHaveProperty("X-Gantrel-CSRF");
    expect(sent[1].init.headers).toMatchObject({
      "X-Gantrel-CSRF": "the-token",
      "Content-Type": "application/json",
      "If-Match": '"r1"',
    });
    expect(sent[1].init.body).toBe('{"x":1}');
  });

  it("that is turned down tells all that is wrong", async () => {
    answering(422, { detail: "two things", problems: [{ field: "day", message: "is no date" }] });
    const refused = await get("/a").catch((error: unknown) => error);
    expect(refused).toBeInstanceOf(Refused);
    expect(refused).toMatchObject({
      status: 422,
      message: "two things",
      problems: [{ field: "day", message: "is no date" }],
    });
  });

  it("whose answer is no JSON is one that nobody answered, and may be made again", async () => {
    for (const [status, text] of [
      [200, "<html>sign in to the network</html>"],
      [503, "<html>busy</html>"],
    ] as const) {
      vi.stubGlobal("fetch", async () => new Response(text, { status }));
      const refused = await get("/a").catch((error: unknown) => error);
      expect(refused).toMatchObject({ message: expect.stringContaining("does not answer") });
      expect(isPassing(refused)).toBe(true);
    }
    answering(404, { detail: "no such thing" });
    expect(isPassing(await get("/a").catch((error: unknown) => error))).toBe(false);
  });

  it("that a session's end turned down waits for somebody to sign in again, and is made once more", async () => {
    sessionBegan();
    let ended = true;
    vi.stubGlobal("fetch", async () =>
      ended ? new Response('{"detail":"not signed in"}', { status: 401 }) : new Response('"done"', { status: 200 }),
    );
    const answers = [get("/a"), get("/b")];
    await new Promise((resolve) => setTimeout(resolve));
    ended = false;
    sessionBegan();
    expect(await Promise.all(answers)).toEqual(["done", "done"]);
    ended = true;
    const last = get("/c").catch((error: unknown) => error);
    await new Promise((resolve) => setTimeout(resolve));
    sessionLeft();
    expect(await last).toMatchObject({ status: 401 });
    // whoever is not signed in is told at once
    await expect(get("/d")).rejects.toMatchObject({ status: 401 });
  });

  it("for all of a list goes on from page to page", async () => {
    const pages: Record<string, [unknown[], string | undefined]> = {
      "/jobs": [[1, 2], "/jobs?after=2"],
      "/jobs?after=2": [[3], undefined],
    };
    vi.stubGlobal("fetch", async (path: string) => {
      const [body, next] = pages[path];
      return new Response(JSON.stringify(body), next ? { headers: { Link: `<${next}>; rel="next"` } } : undefined);
    });
    expect(await getAll("/jobs")).toEqual([1, 2, 3]);
  });

  it("that nobody answers says so in words", async () => {
    vi.stubGlobal("fetch", async () => {
      throw new TypeError("Failed to fetch");
    });
    await expect(get("/a")).rejects.toMatchObject({ status: 0, message: expect.stringContaining("does not answer") });
  });

  it("leaves empty parameters out and writes the others as they must be", () => {
    expect(withQuery("/runs", { q: "50% a&b", job: "", limit: 50, team: undefined })).toBe(
      "/runs?q=50%25+a%26b&limit=50",
    );
    expect(withQuery("/runs", {})).toBe("/runs");
  });
});
