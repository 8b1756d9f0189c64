import { useQuery } from "@tanstack/react-query";
import { Outlet } from "react-router";
import { get, keepCsrf, Refused } from "./api/client";
import { sessionBegan } from "./api/session";
import type { Me } from "./api/types";
import { SignInPage } from "./features/signin/SignInPage";
import { Coming } from "./ui/Asked";
import { takeChoices } from "./ui/choices";
import { MeContext } from "./ui/me";
import { Shell } from "./ui/Shell";
import { Trouble } from "./ui/Trouble";

/** The console: a way in for whoever is not signed in, and the pages for whoever is. */
export function App() {
  const me = useQuery({
    queryKey: ["me"],
    queryFn: async () => {
      const found = await get<Me>("/api/v1/me");
      keepCsrf(found.csrf);
      takeChoices(found);
      sessionBegan();
      return found;
    },
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (me.data === undefined) {
    if (me.error instanceof Refused && me.error.status === 401) return <SignInPage />;
    return me.error ? <Trouble error={me.error} /> : <Coming />;
  }
  return (
    <MeContext value={me.data}>
      <Shell>
        <Outlet />
      </Shell>
    </MeContext>
  );
}
