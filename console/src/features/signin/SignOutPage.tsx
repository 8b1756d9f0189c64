import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { call } from "../../api/client";
import { sessionLeft } from "../../api/session";
import { Coming } from "../../ui/Asked";
import { Trouble } from "../../ui/Trouble";

/** The way out; a page of its own, so that what guards unsaved changes asks before it. */
export function SignOutPage() {
  const out = useQuery({
    queryKey: ["sign-out"],
    queryFn: async () => {
      sessionLeft();
      await call("DELETE", "/api/v1/sessions/current");
      return true;
    },
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  useEffect(() => {
    if (out.data) window.location.assign("/");
  }, [out.data]);
  return out.error ? <Trouble error={out.error} /> : <Coming />;
}
