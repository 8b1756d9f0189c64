import Button from "@mui/material/Button";
import { useRouteError } from "react-router";
import { Empty } from "./Empty";

/** What is shown in place of a page that broke, or whose code is no longer there because the service is a newer one. */
export function PageBroke() {
  const error = useRouteError();
  const message = error instanceof Error ? error.message : String(error);
  const gone = /dynamically imported module|importing a module|Failed to fetch/i.test(message);
  return (
    <Empty
      title={gone ? "This page could not be loaded" : "This page broke"}
      hint={
        gone
          ? "The service is away, or it is another version than this page. Load it again."
          : `It is our fault, not yours: ${message.slice(0, 300)}`
      }
    >
      <Button variant="contained" onClick={() => window.location.reload()}>
        Load again
      </Button>
    </Empty>
  );
}
