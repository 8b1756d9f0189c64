import Box from "@mui/material/Box";
import { NavLink, useLocation } from "react-router";
import { useMe } from "./me";
import { PAGE_GROUPS, type PageEntry } from "./pagesList";

/** All pages by their names. */
export function PageLinks() {
  const me = useMe();
  return (
    <Box component="nav" aria-label="Pages" sx={{ px: 1 }}>
      {PAGE_GROUPS.map(({ title, pages }) => (
        <Box
          key={title}
          role="group"
          aria-label={title}
          sx={{ "& + &": { mt: 1, pt: 1, borderTop: 1, borderColor: "divider" } }}
        >
          {pages
            .filter((page) => !page.administrators || me.administrator)
            .map((page) => (
              <PageLink key={page.to} page={page} />
            ))}
        </Box>
      ))}
    </Box>
  );
}

function PageLink({ page: { to, name, also } }: { page: PageEntry }) {
  const { pathname } = useLocation();
  const under = (place: string) => pathname === place || pathname.startsWith(`${place}/`);
  const here = to === "/" ? pathname === "/" : under(to) || (also !== undefined && under(also));
  return (
    <Box
      component={NavLink}
      to={to}
      aria-current={here ? "page" : undefined}
      sx={{
        display: "block",
        px: 1.5,
        py: 0.55,
        borderRadius: 1,
        textDecoration: "none",
        fontWeight: here ? 650 : 450,
        color: here ? "primary.main" : "text.primary",
        bgcolor: here ? "paper2" : "transparent",
        borderLeft: 3,
        borderColor: here ? "primary.main" : "transparent",
        "&:hover": { bgcolor: "paper2" },
      }}
    >
      {name}
    </Box>
  );
}
