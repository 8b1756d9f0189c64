/** What each kind of credential asks for: its facts, and the secret that it keeps. */
export const KINDS: Record<string, { about: string; facts: string[]; optional: string[]; secret?: string }> = {
  database: { about: "a database, by its JDBC address", facts: ["url"], optional: ["user"], secret: "password" },
  "http-basic": { about: "user and password of an HTTP service", facts: ["user"], optional: [], secret: "password" },
  "http-bearer": { about: "a token for an HTTP service", facts: [], optional: [], secret: "token" },
  "http-header": { about: "a header of an HTTP service", facts: ["header"], optional: [], secret: "value" },
  mail: {
    about: "a mail server and who writes",
    facts: ["host", "port", "from"],
    optional: ["encryption", "user"],
    secret: "password",
  },
  secret: { about: "a secret that a command finds in a variable", facts: [], optional: [], secret: "value" },
  account: { about: "an account of this host; administrators alone", facts: ["account"], optional: [] },
};
