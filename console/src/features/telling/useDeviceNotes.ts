import { useEffect, useState } from "react";
import type { Bell } from "../../api/types";

const WISH = "gantrel.device-notes";
const SHOWN = "gantrel.device-notes.shown";
const MOST_AT_ONCE = 3;

type State = "off" | "on" | "denied" | "none";

const supported = () => "Notification" in window;

function stateNow(): State {
  if (!supported()) return "none";
  if (Notification.permission === "denied") return "denied";
  return Notification.permission === "granted" && localStorage.getItem(WISH) === "on" ? "on" : "off";
}

/**
 * Shows what is new of the bell as notes of the device, where the person wants that and the browser allows it. Tabs share what was
 * shown already, so that one message is one note.
 */
export function useDeviceNotes(bell: Bell | undefined) {
  const [state, setState] = useState<State>(stateNow);
  const newest = Math.max(0, ...(bell?.messages ?? []).map((each) => each.id));
  useEffect(() => {
    if (!bell || newest === 0) return;
    const before = Number(localStorage.getItem(SHOWN) ?? 0);
    if (newest <= before) return;
    localStorage.setItem(SHOWN, String(newest));
    // the first look at a bell that has been ringing for long is no news
    if (state !== "on" || before === 0 || document.hasFocus()) return;
    const fresh = bell.messages.filter((each) => each.id > before && !each.seen);
    for (const each of fresh.slice(0, MOST_AT_ONCE)) {
      const note = new Notification(each.subject, { tag: `gantrel-${each.id}` });
      note.onclick = () => {
        window.focus();
        window.location.assign(each.fault ? `/faults/${each.fault}` : each.run ? `/runs/${each.run}` : "/");
      };
    }
  }, [bell, newest, state]);
  const want = async (on: boolean) => {
    if (on && Notification.permission !== "granted") await Notification.requestPermission();
    localStorage.setItem(WISH, on ? "on" : "off");
    setState(stateNow());
  };
  return { state, want };
}
