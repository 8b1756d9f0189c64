import { useEffect } from "react";

const QUESTION = "Leave without saving what you changed?";

/** Keeps unsaved changes from being lost by closing the page or by following a link in it. */
export function useGuard(changed: boolean) {
  useEffect(() => {
    if (!changed) return;
    const closing = (event: BeforeUnloadEvent) => event.preventDefault();
    const following = (event: MouseEvent) => {
      const link = (event.target as Element | null)?.closest?.("a[href]");
      if (link && !window.confirm(QUESTION)) {
        event.preventDefault();
        event.stopPropagation();
      }
    };
    window.addEventListener("beforeunload", closing);
    document.addEventListener("click", following, true);
    return () => {
      window.removeEventListener("beforeunload", closing);
      document.removeEventListener("click", following, true);
    };
  }, [changed]);
}
