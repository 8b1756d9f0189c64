import Badge from "@mui/material/Badge";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Popover from "@mui/material/Popover";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import { Link as RouterLink } from "react-router";
import { Time } from "../../ui/Time";
import { useDeviceNotes } from "./useDeviceNotes";
import { useBell, useSeen } from "./useTelling";

/** What concerns me, with how much of it I have not seen. */
export function BellButton() {
  const bell = useBell();
  const seen = useSeen();
  const notes = useDeviceNotes(bell.data);
  const [open, setOpen] = useState(false);
  const anchor = useRef<HTMLButtonElement>(null);
  const unseen = bell.data?.unseen ?? 0;
  const close = () => {
    setOpen(false);
    if (unseen > 0) seen.mutate();
  };
  return (
    <>
      <Button
        ref={anchor}
        onClick={() => setOpen(true)}
        aria-label={unseen > 0 ? `Told you: ${unseen} new` : "Told you: 0 new"}
        sx={{ minWidth: 0, px: 1 }}
      >
        <Badge badgeContent={unseen} invisible={unseen === 0} color="error" max={99}>
          <svg
            width="20"
            height="20"
            viewBox="0 0 20 20"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.5"
            aria-hidden="true"
          >
            <path d="M4 14h12l-1.6-2.6V8.2a4.4 4.4 0 0 0-8.8 0v3.2zM8.4 16.4a1.8 1.8 0 0 0 3.2 0" />
          </svg>
        </Badge>
      </Button>
      <Popover
        open={open}
        onClose={close}
        anchorEl={() => anchor.current}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
        slotProps={{ paper: { sx: { width: "min(440px, calc(100vw - 24px))", maxHeight: 480, p: 1.5 } } }}
      >
        <Typography variant="h2" sx={{ mb: 1 }}>
          You were told
        </Typography>
        {bell.data?.messages.length === 0 && (
          <Typography color="textSecondary">
            Nothing yet. Rules, and jobs that you follow, say what you are told of.
          </Typography>
        )}
        <Box component="ul" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.9, fontSize: "0.88rem" }}>
          {(bell.data?.messages ?? []).map((message) => (
            <Box
              component="li"
              key={message.id}
              sx={{ fontWeight: message.seen ? 400 : 650, overflowWrap: "anywhere" }}
            >
              <Link
                component={RouterLink}
                to={message.fault ? `/faults/${message.fault}` : message.run ? `/runs/${message.run}` : "/"}
                onClick={close}
                color={message.kind === "recovered" ? "success" : undefined}
              >
                {message.subject}
              </Link>{" "}
              <Box component="span" sx={{ color: "text.secondary", fontWeight: 400 }}>
                <Time at={message.at} />
              </Box>
            </Box>
          ))}
        </Box>
        {notes.state === "denied" && (
          <Typography color="textSecondary" sx={{ mt: 1, fontSize: "0.82rem" }}>
            This browser does not let this page show notes of the device; its settings change that.
          </Typography>
        )}
        {(notes.state === "on" || notes.state === "off") && (
          <Button size="small" sx={{ mt: 1 }} onClick={() => notes.want(notes.state === "off")}>
            {notes.state === "off" ? "Show them on this device too" : "No more notes of this device"}
          </Button>
        )}
      </Popover>
    </>
  );
}
