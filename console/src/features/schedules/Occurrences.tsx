import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import { useInfiniteQuery } from "@tanstack/react-query";
import { Link as RouterLink } from "react-router";
import { get, withQuery } from "../../api/client";
import type { LastOccurrence } from "../../api/types";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";

const PAGE = 25;

/** What became of each start of a schedule, newest first: its run, or why there is none. */
export function Occurrences({ job, schedule, zone }: { job: string; schedule: string; zone: string }) {
  const path = `/api/v1/jobs/${encodeURIComponent(job)}/schedules/${encodeURIComponent(schedule)}/occurrences`;
  const past = useInfiniteQuery({
    queryKey: ["job", job, "occurrences", schedule],
    queryFn: ({ pageParam }) => get<LastOccurrence[]>(withQuery(path, { before: pageParam, limit: PAGE })),
    initialPageParam: "",
    getNextPageParam: (last) => (last.length === PAGE ? last[PAGE - 1].at : undefined),
  });
  const all = past.data?.pages.flat() ?? [];
  return (
    <>
      <Trouble error={past.error} />
      {past.data && all.length === 0 && <Box sx={{ color: "text.secondary" }}>Nothing has fallen due yet.</Box>}
      <Box component="ol" aria-label="What became of its starts" sx={{ m: 0, p: 0, listStyle: "none" }}>
        {all.map((each) => (
          <Box
            key={each.at}
            component="li"
            sx={{
              display: "flex",
              flexWrap: "wrap",
              gap: 1.5,
              alignItems: "center",
              py: 0.4,
              borderTop: 1,
              borderColor: "divider",
            }}
          >
            <Time at={each.at} zone={zone} />
            <StateMark state={each.state} />
            <Box sx={{ flex: 1, minWidth: 160, color: "text.secondary", overflowWrap: "anywhere" }}>{each.reason}</Box>
            {each.run && (
              <Link component={RouterLink} to={`/runs/${each.run}`}>
                run {each.run}
              </Link>
            )}
          </Box>
        ))}
      </Box>
      {past.hasNextPage && (
        <Button disabled={past.isFetchingNextPage} onClick={() => past.fetchNextPage()}>
          Earlier
        </Button>
      )}
    </>
  );
}
