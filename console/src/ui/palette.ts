import { useSyncExternalStore } from "react";

/** Whether the palette is open; keys and the find box open it from anywhere. */
let open = false;
const listeners = new Set<() => void>();

function set(next: boolean) {
  open = next;
  for (const listener of listeners) listener();
}

export const openPalette = () => set(true);
export const closePalette = () => set(false);

export function usePaletteOpen(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => open,
  );
}
