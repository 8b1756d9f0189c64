import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { get } from "../../api/client";
import { useCall } from "../../api/useCall";
import { Asked } from "../../ui/Asked";
import { Fact, FactList } from "../../ui/FactList";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { bytesWords } from "../../ui/times";

type Backup = { name: string; at: string; bytes: number };
type Backups = {
  folder?: string;
  at?: string;
  zone?: string;
  keep?: number;
  next?: string;
  trouble?: { at: string; message: string };
  backups: Backup[];
};

/** Which backups of the database are there, and when the next is made. */
export function BackupPanel() {
  const backups = useQuery({ queryKey: ["installation", "backups"], queryFn: () => get<Backups>("/api/v1/backups") });
  const make = useCall<Backup>("installation");
  return (
    <Asked query={backups}>
      {(found) =>
        found.folder === undefined ? (
          <Typography color="textSecondary">
            None are made. The setting backup-to names a folder, best on another disk.
          </Typography>
        ) : (
          <Box sx={{ display: "grid", gap: 1.25 }}>
            {found.trouble && (
              <Alert severity="error" role="status">
                The latest, <Time at={found.trouble.at} />, failed: {found.trouble.message}
              </Alert>
            )}
            <FactList>
              <Fact name="newest">{newest(found) ?? "none yet"}</Fact>
              <Fact name="there are">
                {found.backups.length}; {found.keep} are kept
              </Fact>
              {found.next && (
                <Fact name="next">
                  <Time at={found.next} />
                </Fact>
              )}
              <Fact name="folder">{found.folder}</Fact>
            </FactList>
            <Box>
              <Button
                variant="outlined"
                disabled={make.isPending}
                onClick={() => make.mutate({ method: "POST", path: "/api/v1/backups", body: {} })}
              >
                {make.isPending ? "Backing up …" : "Back up now"}
              </Button>
            </Box>
            <Trouble error={make.error} />
          </Box>
        )
      }
    </Asked>
  );
}

function newest({ backups: [first] }: Backups) {
  return (
    first && (
      <>
        <Time at={first.at} />, {bytesWords(first.bytes)}
      </>
    )
  );
}
