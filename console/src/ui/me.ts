import { createContext, useContext } from "react";
import type { Me } from "../api/types";

export const MeContext = createContext<Me | undefined>(undefined);

/** Who is signed in. */
export function useMe(): Me {
  const me = useContext(MeContext);
  if (!me) throw new Error("used outside of what only signed-in people see");
  return me;
}
