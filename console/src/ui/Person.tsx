import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import { Link as RouterLink } from "react-router";
import { useColourMode } from "./ColourMode";
import { useMe } from "./me";
import { ME_PAGE } from "./pagesList";

/** Who one is, how one likes it, and the way out. */
export function Person() {
  const me = useMe();
  const { choice, choose } = useColourMode();
  const next = choice === "light" ? "dark" : choice === "dark" ? "system" : "light";
  const teams = Object.keys(me.teams).length;
  return (
    <Box sx={{ mt: "auto", px: 2.5, pt: 1, fontSize: "0.82rem" }}>
      <Link
        component={RouterLink}
        to={ME_PAGE.to}
        color="text.primary"
        underline="hover"
        title={ME_PAGE.name}
        sx={NAME}
      >
        {me.fullName || me.name}
      </Link>
      <Box sx={{ color: "text.secondary", mb: 0.5 }}>
        {me.administrator ? "administrator" : `${teams} ${teams === 1 ? "team" : "teams"}`}
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", ml: -0.75 }}>
        <Button
          onClick={() => choose(next)}
          aria-label={`Colours: ${choice}; change to ${next}`}
          sx={{ minWidth: 0, px: 0.75 }}
        >
          {choice}
        </Button>
        <Button component={RouterLink} to="/sign-out" sx={{ minWidth: 0, px: 0.75 }}>
          Sign out
        </Button>
      </Box>
    </Box>
  );
}

const NAME = { fontWeight: 650, display: "block", overflow: "hidden", textOverflow: "ellipsis" } as const;
