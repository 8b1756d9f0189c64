import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Skeleton from "@mui/material/Skeleton";
import type { UseQueryResult } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Trouble } from "./Trouble";
import { useLate } from "./useLate";

type Props<T> = { query: UseQueryResult<T>; children: (data: T) => ReactNode };

/**
 * What is shown of something that was asked for: the answer as soon as there has ever been one, with a line above it when
 * it could not be asked for again; what went wrong only where there is nothing else to show.
 */
export function Asked<T>({ query, children }: Props<T>) {
  if (query.data === undefined) return <NotYet query={query} />;
  return (
    <>
      {query.error && (
        <Alert severity="warning" variant="outlined" sx={{ mb: 1.5 }} role="status">
          This is what was known before; it could not be asked for again. {query.error.message}
        </Alert>
      )}
      {children(query.data)}
    </>
  );
}

/** In place of what was asked for and has not come yet, or could not. */
export function NotYet<T>({ query }: { query: UseQueryResult<T> }) {
  return query.error ? <Trouble error={query.error} /> : <Coming />;
}

/** That something is on its way; said only when it takes long enough to be noticed. */
export function Coming({ lines = 6 }: { lines?: number }) {
  if (!useLate(true)) return null;
  return (
    <Box role="status" aria-label="It is on its way" sx={{ display: "grid", gap: 1 }}>
      {Array.from({ length: lines }, (_, line) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines of nothing are all alike
        <Skeleton key={line} variant="rounded" height={line === 0 ? 32 : 22} width={line === 0 ? "40%" : "100%"} />
      ))}
    </Box>
  );
}
