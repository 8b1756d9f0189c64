import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { get } from "../../api/client";
import type { Token } from "../../api/types";
import { useCall } from "../../api/useCall";
import { MONO } from "../../theme";
import { Asked } from "../../ui/Asked";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useAsk } from "../../ui/useAsk";

/** Tokens with which programs and the command line act as me. */
export function TokenList() {
  const tokens = useQuery({ queryKey: ["tokens"], queryFn: () => get<Token[]>("/api/v1/tokens") });
  const make = useCall<{ token: string }>("tokens");
  const revoke = useCall("tokens");
  const { ask, question } = useAsk();
  const [name, setName] = useState("");
  const [days, setDays] = useState("90");
  return (
    <>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        With a token a program may do what you may do.
      </Typography>
      <Asked query={tokens}>
        {(all) => (
          <Box component="ul" aria-label="Tokens" sx={{ m: 0, p: 0, listStyle: "none" }}>
            {all.map((token) => (
              <Box key={token.id} component="li" sx={{ display: "flex", gap: 1, alignItems: "center", py: 0.25 }}>
                <Box sx={{ flex: 1, minWidth: 0, overflowWrap: "anywhere" }}>
                  <b>{token.name}</b>{" "}
                  <Box component="span" sx={{ color: "text.secondary", fontSize: "0.85rem" }}>
                    until <Time at={token.expiresAt} />,{" "}
                    {token.lastUsedAt ? (
                      <>
                        last used <Time at={token.lastUsedAt} as="relative" />
                      </>
                    ) : (
                      "never used"
                    )}
                  </Box>
                </Box>
                <Button
                  color="error"
                  aria-label={`Revoke ${token.name}`}
                  onClick={() =>
                    ask({
                      title: `Revoke the token ${token.name}?`,
                      deed: "Revoke it",
                      text: "What uses it is refused from now on.",
                      onYes: () => revoke.mutate({ method: "DELETE", path: `/api/v1/tokens/${token.id}` }),
                    })
                  }
                >
                  Revoke
                </Button>
              </Box>
            ))}
            {all.length === 0 && <Box component="li">You have none.</Box>}
          </Box>
        )}
      </Asked>
      {make.data && (
        <Alert severity="success" sx={{ my: 1 }} onClose={make.reset}>
          Copy it now; it is not shown again:
          <Box sx={{ fontFamily: MONO, overflowWrap: "anywhere", userSelect: "all" }}>{make.data.body.token}</Box>
        </Alert>
      )}
      <Box
        component="form"
        sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1.5 }}
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate(
            { method: "POST", path: "/api/v1/tokens", body: { name, days: Number(days) } },
            { onSuccess: () => setName("") },
          );
        }}
      >
        <TextField
          label="What it is for"
          value={name}
          onChange={(event) => setName(event.target.value)}
          sx={{ flex: 1 }}
        />
        <TextField
          label="Days"
          value={days}
          onChange={(event) => setDays(event.target.value)}
          slotProps={{ htmlInput: { inputMode: "numeric" } }}
          sx={{ width: 80 }}
        />
        <Button type="submit" variant="outlined" disabled={name.trim() === "" || make.isPending}>
          Make a token
        </Button>
      </Box>
      <Trouble error={make.error ?? revoke.error} />
      {question}
    </>
  );
}
