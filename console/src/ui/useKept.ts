import { useState } from "react";

/** A choice that stays on this device. */
export function useKept<T extends string>(key: string, usual: T): [T, (next: T) => void] {
  const [value, setValue] = useState<T>(() => (localStorage.getItem(key) as T | null) ?? usual);
  const keep = (next: T) => {
    localStorage.setItem(key, next);
    setValue(next);
  };
  return [value, keep];
}
