/** The common forms of a phrase, as fields; the text and the fields are two views of one thing. */
export type Form = "daily" | "weekly" | "monthly" | "nth" | "steps" | "own";

export type Built = {
  form: Form;
  /** Times of the day, such as "02:30 and 14:00". */
  times: string;
  /** Names of weekdays; "weekday", "weekend day", "working day" and "day" stand alone. */
  days: string[];
  /** "1", "15", "last" or "3 before last". */
  dayOfMonth: string;
  place: string;
  period: string;
  step: string;
  unit: string;
  from: string;
  until: string;
  own: string;
};

export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
export const PLACES = ["first", "second", "third", "fourth", "fifth", "last"];
export const NOUNS = ["working day", "weekday", ...WEEKDAYS];
export const PERIODS = ["month", "quarter", "year"];

export const FORMS: Record<Form, string> = {
  daily: "Every day, weekday or working day",
  weekly: "On days of the week",
  monthly: "On a day of the month",
  nth: "On the first, second ... or last of a kind of day",
  steps: "Every so many minutes or hours",
  own: "In your own words, as cron, or as a rule",
};

const START: Built = {
  form: "own",
  times: "02:30",
  days: ["day"],
  dayOfMonth: "1",
  place: "first",
  period: "month",
  step: "15",
  unit: "minutes",
  from: "",
  until: "",
  own: "",
};

const CLOCKS = "(\\d{2}:\\d{2}(?:(?:, | and )\\d{2}:\\d{2})*)";
const NAMES = `(?:${WEEKDAYS.join("|")})`;

const READERS: [Form, RegExp, (found: string[]) => Partial<Built>][] = [
  [
    "daily",
    new RegExp(`^every (day|weekday|weekend day|working day) at ${CLOCKS}$`),
    ([day, times]) => ({ days: [day], times }),
  ],
  [
    "weekly",
    new RegExp(`^every (${NAMES}(?:(?:, | and )${NAMES})*) at ${CLOCKS}$`),
    ([days, times]) => ({ days: days.split(/, | and /), times }),
  ],
  [
    "monthly",
    new RegExp(`^(day (?:\\d{1,2})|last day|\\d{1,2} days? before the last day) of every month at ${CLOCKS}$`),
    ([day, times]) => ({ dayOfMonth: day.replace(/^day /, ""), times }),
  ],
  [
    "nth",
    new RegExp(`^(${PLACES.join("|")}) (${NOUNS.join("|")}) of every (${PERIODS.join("|")}) at ${CLOCKS}$`),
    ([place, noun, period, times]) => ({ place, days: [noun], period, times }),
  ],
  [
    "steps",
    /^every (?:(\d+) )?(minute|hour)s?(?: between (\d{2}:\d{2}) and (\d{2}:\d{2}))?$/,
    ([step, unit, from = "", until = ""]) => ({ step: step ?? "1", unit: `${unit}s`, from, until }),
  ],
];

/** The fields that a text fills; a text of no common form is one's own. */
export function readBuilt(text: string): Built {
  for (const [form, pattern, fill] of READERS) {
    const found = text.trim().match(pattern);
    if (found) return { ...START, own: text, form, ...fill(found.slice(1)) };
  }
  return { ...START, own: text };
}

const list = (words: string[]) =>
  words.length < 2 ? words.join("") : `${words.slice(0, -1).join(", ")} and ${words.at(-1)}`;

const inOrder = (days: string[]) => WEEKDAYS.filter((day) => days.includes(day));

/** The text that the fields stand for. */
export function writeBuilt(built: Built): string {
  const weekdays = inOrder(built.days);
  switch (built.form) {
    case "daily":
      return `every ${built.days[0] && weekdays.length === 0 ? built.days[0] : "day"} at ${built.times}`;
    case "weekly":
      return `every ${list(weekdays.length > 0 ? weekdays : ["Monday"])} at ${built.times}`;
    case "monthly":
      return `${/^\d+$/.test(built.dayOfMonth) ? `day ${built.dayOfMonth}` : built.dayOfMonth} of every month at ${built.times}`;
    case "nth":
      return `${built.place} ${NOUNS.includes(built.days[0]) ? built.days[0] : "working day"} of every ${built.period} at ${built.times}`;
    case "steps": {
      const one = built.step === "1";
      const between = built.from && built.until ? ` between ${built.from} and ${built.until}` : "";
      return `every ${one ? built.unit.replace(/s$/, "") : `${built.step} ${built.unit}`}${between}`;
    }
    default:
      return built.own;
  }
}
