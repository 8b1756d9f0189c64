import type { ChainStep, Course } from "../features/chain/model";
import type { components } from "./schema";

type Schemas = components["schemas"];

/** The generated types leave every field open; this closes those that are always there. */
type Closed<T, Open extends keyof T = never> = Required<Omit<T, Open>> & Pick<T, Open>;

export type Run = Closed<
  Schemas["RunView"],
  | "starter"
  | "startedAt"
  | "finishedAt"
  | "took"
  | "actsAs"
  | "exitCode"
  | "message"
  | "waitingFor"
  | "parent"
  | "step"
  | "takenBy"
  | "results"
  | "retryAt"
  | "deadline"
  | "gatesSkipped"
>;

export type ComparedFact = Closed<Schemas["FactView"]>;
export type Comparison = { one: Run; other: Run; facts: ComparedFact[] };

export type Progress = { share?: number; text: string; values: Record<string, string>; at: string };
export type Why = Omit<
  Closed<Schemas["Why"], "waitsFor" | "toStart" | "keeps" | "gatesSkipped">,
  "inTheWay" | "waits" | "gates"
> & {
  inTheWay: Closed<Schemas["InTheWay"], "run" | "job" | "since">[];
  waits: Closed<Schemas["Waited"], "until">[];
  gates: Closed<Schemas["Kept"]>[];
};
export type Lane = Closed<Schemas["LaneView"], "closedBy" | "closedWhy" | "hold">;
export type InLane = Closed<Schemas["InLane"], "run" | "job" | "team" | "what">;
export type LaneDetail = {
  lane: Lane;
  in: InLane[];
  queue: InLane[];
  jobs: { job: string; team: string; step?: string; places: number }[];
  hours: { at: string; share: number; most: number; width: number }[];
  definition: string;
  mayDo: string[];
};
export type Hold = Closed<Schemas["HoldView"], "name" | "until" | "endedAt" | "endedBy">;
export type LaneAhead = {
  shut?: string;
  lane: string;
  width: number;
  points: { at: string; taken: number }[];
  crowded: { from: string; until: string; jobs: string[] }[];
};
export type JournalEvent = Omit<Closed<Schemas["JournalEvent"], "run">, "about"> & { about: Record<string, unknown> };
export type EventTypeView = { type: string; about: string; says: string; fields: { name: string; says: string }[] };
export type Silence = Closed<Schemas["Silence"]>;
export type Firing = Closed<Schemas["FiringView"], "run" | "planned" | "why">;
export type Trigger = Omit<Closed<Schemas["TriggerView"], "offBy" | "offAt" | "trouble" | "lookedAt">, "last"> & {
  last?: Firing;
};
export type TriggerPageView = {
  trigger: Trigger;
  address?: string;
  shell?: string;
  firings: Firing[];
  mayDo: string[];
};
export type TriggerTrial = Omit<Closed<Schemas["TriggerTrial"], "at" | "why">, "with"> & {
  with: Record<string, string>;
};
export type LineagePart = {
  kind: "run" | "event" | "message";
  id: number;
  title: string;
  state?: string;
  at?: string;
  how?: string;
  asked: boolean;
  more?: number;
  caused: LineagePart[];
};
export type Deadline = Closed<Schemas["Deadline"], "run" | "ends" | "late" | "because">;

export type StepState = ChainStep & { state: string };

export type RunDetail = Run & {
  sentence: string;
  zone: string;
  newerRevision?: number;
  usual?: string;
  stopping: boolean;
  timeline: { at: string; what: string }[];
  attempts?: {
    attempt: number;
    startedAt: string;
    finishedAt: string;
    state: string;
    exitCode?: number;
    message: string;
  }[];
  progress?: Progress;
  steps?: StepState[];
  chain?: Course;
  repeats: number[];
  logBytes: number;
  items: number;
  failedItems: number;
  mayDo: string[];
};

export type LastOccurrence = Closed<Schemas["LastOccurrence"], "run">;
export type Schedule = Omit<
  Closed<Schemas["ScheduleView"], "calendar" | "except" | "shift" | "window" | "from" | "until" | "last">,
  "last"
> & { last?: LastOccurrence };
/** Why a schedule started at a moment, or did not. */
export type WhyThen = Closed<Schemas["Answer"], "run" | "runState" | "revision" | "before" | "next">;
export type Calendar = Closed<Schemas["CalendarView"], "hours" | "definition">;
export type CalendarDay = Closed<Schemas["DayView"], "label" | "starts">;
export type Moved = Closed<Schemas["Moved"]>;
export type CalendarPreview = { moved: Moved[]; notCompared: number; days: CalendarDay[] };
export type Parameter = Closed<
  Schemas["ParameterView"],
  "fallback" | "pattern" | "least" | "most" | "now" | "nowWords"
>;
export type LastRun = Closed<Schemas["LastRun"], "finishedAt">;

export type JobSummary = Omit<Closed<Schemas["JobSummary"], "next" | "usual">, "schedules" | "last"> & {
  schedules: Schedule[];
  last?: LastRun;
};

/** How runs of a job behave with nobody watching; what is as usual is missing. */
export type JobRules = Partial<Schemas["RulesView"]>;

export type Job = Omit<
  Closed<
    Schemas["JobView"],
    "does" | "actsAs" | "outcome" | "timeLimit" | "usual" | "longAfter" | "triggers" | "usedBy"
  >,
  "parameters" | "schedules" | "steps" | "does" | "rules"
> & {
  rules?: JobRules;
  parameters: Parameter[];
  schedules: Schedule[];
  steps?: ChainStep[];
  does?: Closed<Schemas["ActionView"], "command" | "in" | "environment">;
};

export type Me = {
  name: string;
  fullName: string;
  administrator: boolean;
  teams: Record<string, string[]>;
  /** How they like things to be shown, by name. */
  choices: Record<string, string>;
  csrf: string;
};

export type Attention = {
  run: Run;
  inARow: number;
  since: string;
  fault?: { id: number; since: string; seenBy?: string };
  also: Run[];
};

/** What the service could not deal with, kept apart so that nothing else waits for it. */
export type SetAside = Closed<Schemas["AsideView"], "team">;

export type Today = {
  zone: string;
  from: string;
  until: string;
  sentence: string;
  counts: Record<string, number>;
  coming: number;
  attention: Attention[];
  setAside: SetAside[];
  deadlines: Deadline[];
  holds: { id: number; words: string; from: string; until?: string; active: boolean }[];
  moreHolds: number;
  silences: Silence[];
};

export type Bar = Closed<Schemas["Bar"], "start" | "end" | "message" | "actsAs" | "deadline" | "late">;
export type BoardRow = { team: string; job: string; kind: string; usual?: string; runs: Bar[]; coming: string[] };
export type Board = {
  from: string;
  until: string;
  now: string;
  cut: boolean;
  comingUntil?: string;
  rows: BoardRow[];
};
export type Explanation = {
  expression: string;
  kind: string;
  phrase: string;
  zone: string;
  occurrences: string[];
  details: { at: string; local: string; movedFrom?: string; note?: string }[];
  cautions: string[];
};
export type Wrong = { file?: string; field?: string; line?: number; column?: number; message: string };

export type Item = Closed<Schemas["ItemView"]>;
export type ItemThen = Closed<Schemas["ItemThen"]>;
export type Output = Closed<Schemas["OutputView"]>;
export type Sweep = Closed<Schemas["SweepView"]>;
export type SweepRow = Closed<Schemas["SweepRowView"], "run" | "waitsFor">;
export type RehearsalLine = Closed<Schemas["LineView"]>;
export type StepPlan = Closed<Schemas["StepPlan"], "from" | "until" | "why" | "waited">;
export type Rehearsal = Omit<Closed<Schemas["RehearsalView"], "ends">, "lines" | "course" | "ends"> & {
  lines: RehearsalLine[];
  /** Of a chain, its steps in the order in which they would end. */
  course?: StepPlan[];
  ends?: Closed<Schemas["EndView"]>;
};
export type Roster = Closed<Schemas["RosterView"], "source" | "rows" | "lastSweep">;
export type Handled = Closed<Schemas["HandledView"]>;
export type RosterRow = Closed<Schemas["RowView"], "lastState" | "lastRun">;
export type Credential = Closed<Schemas["CredentialView"], "expiresOn" | "usedAt" | "warning">;
export type Change = Closed<Schemas["ChangeView"]>;
export type Delivery = Closed<
  Schemas["DeliveryView"],
  "nextTryAt" | "sentAt" | "lastError" | "run" | "rule" | "person" | "fault" | "gatheredInto" | "event"
>;
export type Fault = Closed<Schemas["FaultView"], "seenBy" | "seenAt" | "closedAt" | "closedRun">;
export type FaultMessage = Closed<Schemas["FaultMessage"], "rule" | "goesAt">;
export type FaultPageView = Omit<Closed<Schemas["FaultPage"]>, "fault" | "told" | "runs" | "notes"> & {
  fault: Fault;
  told: FaultMessage[];
  runs: Closed<Schemas["FaultRun"]>[];
  notes: Closed<Schemas["NoteView"]>[];
};
export type Telling = Omit<Closed<Schemas["TellingView"], "onDuty">, "ahead"> & {
  ahead?: Closed<Schemas["Watch"]>[];
};
export type Told = Omit<Closed<Schemas["ToldView"]>, "lines"> & { lines: Closed<Schemas["ToldLine"], "at">[] };
export type Say = Omit<Closed<Schemas["SayView"]>, "jobs"> & { jobs: Closed<Schemas["InterestView"], "until">[] };
export type Bell = Omit<Closed<Schemas["Bell"]>, "messages"> & {
  messages: Closed<Schemas["Rung"], "run" | "fault">[];
};
export type Team = Omit<Closed<Schemas["TeamView"], "folders" | "about">, "members" | "keep"> & {
  members: Record<string, string>;
  keep?: Schemas["KeepView"];
};
export type Person = Closed<Schemas["PersonView"]>;
export type Token = Closed<Schemas["TokenView"], "lastUsedAt">;
export type Feed = Closed<Schemas["FeedView"], "job" | "team" | "address">;
export type Installation = Omit<Closed<Schemas["Installation"]>, "settings"> & {
  settings: Closed<Schemas["InForce"]>[];
};
export type Imported = Omit<Closed<Schemas["Imported"], "before" | "after">, "schedules"> & {
  schedules: Closed<Schemas["Explained"]>[];
};
export type ComingStart = Closed<
  Schemas["ComingStart"],
  "begins" | "ends" | "deadline" | "late" | "waits" | "waitsFor" | "stuck" | "usual" | "skipped"
>;
export type Forecast = {
  from: string;
  until: string;
  cut: boolean;
  playedUntil?: string;
  starts: ComingStart[];
  lanes: LaneAhead[];
  crowded: Closed<Schemas["Crowd"]>[];
  supposed: string[];
};
export type RevisionView = { revision: number; madeBy: string; madeAt: string; definition: string };
export type Retained = { runs?: string; logs?: string; events?: string; changes?: string };
