/** Lists of all that happened, and of all that people did: any news may be on them. */
export const ALWAYS_STALE = ["events", "changes"];

/**
 * What the service tells of as it happens, and what on the pages may be stale by it. What follows from a run only some time
 * after it, such as a fault or a message, has news of its own.
 */
export const TOPICS: Record<string, string[]> = {
  "run.changed": ["runs", "run", "today", "board", "jobs", "lanes", "faults", "fault", "bell", "triggers", "approvals"],
  "step.changed": ["run", "approvals"],
  "approval.changed": ["approvals", "run", "today"],
  "job.changed": ["jobs", "job", "schedules", "today", "board", "triggers"],
  "schedule.changed": ["schedules", "job"],
  "calendar.changed": ["calendars", "calendar", "schedules", "board"],
  "roster.changed": ["rosters"],
  "team.changed": ["teams", "people"],
  "person.changed": ["people"],
  "credential.changed": ["credentials"],
  "engine.changed": ["today", "installation"],
  "history.changed": ["installation"],
  "service.changed": ["today", "installation"],
  "file.changed": ["triggers"],
  "folder.changed": ["triggers"],
  "call.changed": ["triggers"],
  "row.changed": ["triggers"],
  "signin.changed": [],
  "token.changed": ["tokens"],
  "backup.changed": ["installation"],
  "disk.changed": ["today", "installation"],
  "silence.changed": ["today"],
  "fault.changed": ["faults", "fault", "today"],
  "message.changed": ["bell", "deliveries", "fault"],
  "notification.changed": ["tellings", "job"],
  "wording.changed": ["tellings"],
  "duty.changed": ["tellings", "job"],
  "channel.changed": ["tellings", "job"],
  "digest.changed": ["tellings", "job"],
  "lane.changed": ["lanes", "holds", "today", "run", "board"],
  "hold.changed": ["lanes", "holds", "today", "run", "board"],
  "log.lines": [],
  "log.try": [],
  "log.end": [],
};

/** What on the pages may be stale by some news. */
export function staleBy(topic: string): string[] {
  return topic.startsWith("log.") ? [] : [...ALWAYS_STALE, ...(TOPICS[topic] ?? [])];
}
