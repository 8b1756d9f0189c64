import { afterEach, describe, expect, it, vi } from "vitest";
import { call, get, keepCsrf, Refused, withQuery } from "./client";

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
