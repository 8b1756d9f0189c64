import { useCallback, useEffect, useState } from "react";
import { dropUnsaved, keepUnsaved } from "./unsaved";

/**
 * Keeps unsaved changes from being lost, however somebody leaves: by a link, the back button, a key, the find box, signing
 * out or closing the page.
 *
 * @param changed whether there is something unsaved
 * @param what it is, in words, such as "what you changed in count-boats"
 * @returns a way to leave without being asked, for what has just been saved
 */
export function useGuard(changed: boolean, what = "what you changed") {
  const [key] = useState(() => Symbol("unsaved"));
  useEffect(() => {
    if (changed) keepUnsaved(key, what);
    else dropUnsaved(key);
    return () => dropUnsaved(key);
  }, [changed, what, key]);
  return useCallback(() => dropUnsaved(key), [key]);
}
