import Box from "@mui/material/Box";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { useQuery } from "@tanstack/react-query";
import { get } from "../../api/client";
import type { Installation, SetAside } from "../../api/types";
import { MONO } from "../../theme";
import { Asked } from "../../ui/Asked";
import { Fact, FactList } from "../../ui/FactList";
import { PageTitle } from "../../ui/PageTitle";
import { Panel } from "../../ui/Panel";
import { Time } from "../../ui/Time";
import { bytesWords } from "../../ui/times";
import { useBoardZone } from "../../ui/useBoardZone";
import { SetAsideCards } from "../today/SetAsideCards";
import { BackupPanel } from "./BackupPanel";
import { KeyPanel } from "./KeyPanel";
import { MailTest } from "./MailTest";

const POLL = 15_000;

/** How is the service itself, and how is it set up? */
export function InstallationPage() {
  const zone = useBoardZone();
  const installation = useQuery({
    queryKey: ["installation"],
    queryFn: () => get<Installation>("/api/v1/installation"),
    refetchInterval: POLL,
  });
  const aside = useQuery({ queryKey: ["installation", "aside"], queryFn: () => get<SetAside[]>("/api/v1/set-aside") });
  return (
    <>
      <PageTitle title="Installation" />
      <Asked query={installation}>
        {(found) => (
          <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
            <SetAsideCards things={aside.data ?? []} zone={zone} />
            <Box
              sx={{
                display: "grid",
                gap: 2,
                gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 360px), 1fr))",
                alignItems: "start",
              }}
            >
              <Panel title="Health">
                <Facts facts={health(found)} />
              </Panel>
              <Panel title="Backups">
                <BackupPanel />
              </Panel>
              <Panel title="What it holds">
                <Facts
                  facts={Object.entries(found.counts).map(([what, count]) => [
                    what,
                    Number(count).toLocaleString("en"),
                  ])}
                />
              </Panel>
              <Panel title="Try the mail server">
                <MailTest />
              </Panel>
              <Panel title="The key">
                <KeyPanel />
              </Panel>
            </Box>
            <Panel title="Settings in force">
              <Settings settings={found.settings} />
            </Panel>
          </Box>
        )}
      </Asked>
    </>
  );
}

function health(found: Installation): [string, React.ReactNode][] {
  const share = Math.round((100 * found.freeBytes) / found.totalBytes);
  return [
    ["version", found.version],
    ["up since", <Time key="up" at={found.upSince} />],
    ["engine", found.engine],
    ["database", `${found.database}, ${bytesWords(found.databaseBytes)}`],
    ["disk", `${found.disk}, ${bytesWords(found.freeBytes)} free of ${bytesWords(found.totalBytes)} (${share} %)`],
    ["memory", `${bytesWords(found.memoryBytes)} of ${bytesWords(found.memoryMost)}`],
    ["Java", found.java],
    ["system", found.system],
    ["account", found.account],
  ];
}

function Facts({ facts }: { facts: [string, React.ReactNode][] }) {
  return (
    <FactList>
      {facts.map(([name, value]) => (
        <Fact key={name} name={name}>
          {value}
        </Fact>
      ))}
    </FactList>
  );
}

function Settings({ settings }: { settings: Installation["settings"] }) {
  return (
    <Box sx={{ overflowX: "auto" }} tabIndex={0} role="region" aria-label="Settings, scrollable">
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>Setting</TableCell>
            <TableCell>Value</TableCell>
            <TableCell>Said by</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {settings.map(({ name, value, from }) => (
            <TableRow key={name}>
              <TableCell sx={{ fontFamily: MONO }}>{name}</TableCell>
              <TableCell sx={{ fontFamily: MONO, overflowWrap: "anywhere" }}>{value}</TableCell>
              <TableCell sx={{ color: "text.secondary" }}>{from}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}
