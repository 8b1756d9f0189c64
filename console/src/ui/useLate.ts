import { useEffect, useState } from "react";

const SOON_MILLIS = 300;

/** Whether something that is under way takes long enough to be noticed. */
export function useLate(underWay: boolean) {
  const [late, setLate] = useState(false);
  useEffect(() => {
    if (!underWay) return;
    const timer = setTimeout(() => setLate(true), SOON_MILLIS);
    return () => {
      clearTimeout(timer);
      setLate(false);
    };
  }, [underWay]);
  return late;
}
