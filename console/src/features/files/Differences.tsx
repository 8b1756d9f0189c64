import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import { lazy, Suspense } from "react";
import { Link as RouterLink } from "react-router";
import type { Imported } from "../../api/types";
import { Coming } from "../../ui/Asked";
import { Folded } from "../../ui/Folded";
import { Time } from "../../ui/Time";

const SideBySide = lazy(() => import("../../ui/SideBySide"));

const WORDS: Record<string, string> = { create: "new", change: "changed", leave: "as it is" };
const PAGES: Record<string, string> = {
  task: "jobs",
  chain: "jobs",
  job: "jobs",
  calendar: "calendars",
  roster: "rosters",
  lane: "lanes",
};

/** What becomes of each definition that is brought in, with its differences. */
export function Differences({ found, done }: { found: Imported[]; done: boolean }) {
  const count = (action: string) => found.filter((one) => one.action === action).length;
  return (
    <Box>
      <Box role="status" sx={{ fontWeight: 600, mb: 1 }}>
        {count("create")} new, {count("change")} changed, {count("leave")} as they are
      </Box>
      {found
        .filter((one) => one.action !== "leave" || one.warnings.length > 0)
        .map((one) => (
          <Box key={`${one.kind} ${one.name}`} sx={{ borderTop: 1, borderColor: "divider", py: 1 }}>
            <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "baseline" }}>
              <b>{one.kind}</b>
              {done && PAGES[one.kind] ? (
                <Link component={RouterLink} to={`/${PAGES[one.kind]}/${one.name}`}>
                  {one.name}
                </Link>
              ) : (
                one.name
              )}
              <Box sx={{ color: "text.secondary" }}>
                of {one.team}, {WORDS[one.action] ?? one.action}
              </Box>
            </Box>
            {one.warnings.map((warning) => (
              <Box key={warning} role="note" sx={{ my: 0.5, pl: 1, borderLeft: 4, borderColor: "outcome.amber" }}>
                {warning}
              </Box>
            ))}
            {one.schedules.map((schedule) => (
              <Box key={schedule.name} sx={{ fontSize: "0.85rem", color: "text.secondary" }}>
                {schedule.name}: {schedule.phrase}
                {schedule.next.length > 0 && (
                  <>
                    , next <Time at={schedule.next[0]} zone={schedule.zone} />
                  </>
                )}
              </Box>
            ))}
            {one.after !== undefined && (
              <Folded title="Differences" open={one.action === "change"}>
                <Suspense fallback={<Coming lines={3} />}>
                  <SideBySide left={one.before ?? ""} right={one.after} />
                </Suspense>
              </Folded>
            )}
          </Box>
        ))}
    </Box>
  );
}
