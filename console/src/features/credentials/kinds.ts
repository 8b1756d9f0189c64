type Kind = { about: string; facts: string[]; optional: string[]; secrets: string[]; hint?: string };

/** What each kind of credential asks for: its facts, and the secrets that it keeps. */
export const KINDS: Record<string, Kind> = {
  database: { about: "a database, by its JDBC address", facts: ["url"], optional: ["user"], secrets: ["password"] },
  "http-basic": { about: "user and password of an HTTP service", facts: ["user"], optional: [], secrets: ["password"] },
  "http-bearer": { about: "a token for an HTTP service", facts: [], optional: [], secrets: ["token"] },
  "http-header": { about: "a header of an HTTP service", facts: ["header"], optional: [], secrets: ["value"] },
  mail: {
    about: "a mail server and who writes",
    facts: ["host", "port", "from"],
    optional: ["encryption", "user"],
    secrets: ["password"],
  },
  ssh: {
    about: "another host, reached by SSH; commands run there",
    facts: ["host", "user"],
    optional: ["port", "host-key"],
    secrets: ["key", "passphrase", "password"],
    hint: "Key or password. Keep it without a host-key first: Test then says which key the host shows.",
  },
  secret: { about: "a secret that a command finds in a variable", facts: [], optional: [], secrets: ["value"] },
  account: { about: "an account of this host; administrators alone", facts: ["account"], optional: [], secrets: [] },
};

/** Names as people write them: with commas or blanks between them. */
export function names(text: string): string[] {
  return text.split(/[\s,]+/).filter((name) => name !== "");
}
