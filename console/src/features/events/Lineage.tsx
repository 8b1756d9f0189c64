import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import { Link as RouterLink } from "react-router";
import type { LineagePart } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { useLineage } from "./useEvents";

/** What caused a run, and what it caused, as a tree; nothing where it stands alone. */
export function Lineage({ run, zone }: { run: number; zone: string }) {
  const found = useLineage(run).data;
  if (!found || (found.asked && found.caused.length === 0)) return null;
  return (
    <Panel title="What caused what">
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0, fontSize: "0.85rem" }}>
        <Part part={found} zone={zone} />
      </Box>
    </Panel>
  );
}

function Part({ part, zone }: { part: LineagePart; zone: string }) {
  return (
    <Box component="li" sx={{ py: 0.25 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 1, alignItems: "center" }}>
        <Title part={part} />
        {part.at && (
          <Box sx={{ color: "text.secondary" }}>
            <Time at={part.at} zone={zone} />
          </Box>
        )}
      </Box>
      {part.how && <Box sx={{ color: "text.secondary", overflowWrap: "anywhere" }}>{part.how}</Box>}
      {part.caused.length > 0 && (
        <Box component="ul" sx={{ listStyle: "none", m: 0, pl: 1.5, borderLeft: 1, borderColor: "divider" }}>
          {part.caused.map((each, index) => (
            // the same number may stand below two causes
            <Part key={`${each.kind} ${each.id} ${index}`} part={each} zone={zone} />
          ))}
        </Box>
      )}
    </Box>
  );
}

function Title({ part }: { part: LineagePart }) {
  if (part.more) return <>and {part.more} more rows</>;
  if (part.kind === "message") return <>message to {part.title}</>;
  if (part.kind === "event") return <b>{part.title}</b>;
  if (part.id === 0) return <>{part.title}</>;
  const words = `${part.title} ${part.id}`;
  return (
    <>
      {part.state && <StateMark state={part.state} word={false} />}
      {part.asked ? (
        <b>{words}</b>
      ) : (
        <Link component={RouterLink} to={`/runs/${part.id}`} sx={{ overflowWrap: "anywhere" }}>
          {words}
        </Link>
      )}
    </>
  );
}
