import Box from "@mui/material/Box";
import InputBase from "@mui/material/InputBase";
import { useState } from "react";
import { useNavigate } from "react-router";
import { BellButton } from "../features/telling/BellButton";
import { MONO } from "../theme";
import { TodayClock } from "./TodayClock";

export const FIND_ID = "find";

/** Finds a run by its number, or runs by words in their job, values and messages. */
export function FindBox() {
  const [text, setText] = useState("");
  const navigate = useNavigate();
  const find = () => {
    const wanted = text.trim();
    if (/^\d+$/.test(wanted)) navigate(`/runs/${wanted}`);
    else if (wanted) navigate(`/history?q=${encodeURIComponent(wanted)}`);
    setText("");
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 2, mb: 2 }}>
      <Box
        component="form"
        role="search"
        onSubmit={(event) => {
          event.preventDefault();
          find();
        }}
        sx={{
          flex: 1,
          maxWidth: 560,
          display: "flex",
          alignItems: "center",
          border: 1,
          borderColor: "divider",
          borderRadius: 1.5,
          bgcolor: "background.paper",
          px: 1.5,
        }}
      >
        <InputBase
          id={FIND_ID}
          fullWidth
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder="Find a job, a run number, a value …"
          inputProps={{ "aria-label": "Find a job, a run number or a value", maxLength: 200 }}
          sx={{ fontSize: "0.9rem", py: 0.25 }}
        />
        <Box component="kbd" sx={{ fontFamily: MONO, border: 1, borderColor: "divider", borderRadius: 0.75, px: 0.9 }}>
          /
        </Box>
      </Box>
      <Box sx={{ ml: "auto" }}>
        <BellButton />
      </Box>
      <TodayClock />
    </Box>
  );
}
