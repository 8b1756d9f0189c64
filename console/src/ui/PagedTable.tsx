import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { call, withQuery } from "../api/client";
import { Empty } from "./Empty";
import { PlainGrid } from "./Grid";
import { Pager } from "./Pager";
import { Trouble } from "./Trouble";

const ROWS = 50;

type Props<R extends { id: number }> = {
  title: string;
  path: string;
  columns: GridColDef<R>[];
  /** What is said where there is nothing. */
  empty: { title: string; hint: string };
  /** Whether the title stands above it. */
  heading?: boolean;
};

/** A page that is a list of the service's, newest first; where one is in it stands in the address. */
export function PagedTable<R extends { id: number }>({ title, path, columns, empty, heading = true }: Props<R>) {
  const [address, setAddress] = useSearchParams();
  const after = Number(address.get("after") ?? 0);
  const rows = useQuery({
    queryKey: [path, after],
    queryFn: () => call<R[]>("GET", withQuery(path, { limit: ROWS, after: after || undefined })),
    placeholderData: keepPreviousData,
  });
  const found = rows.data?.body ?? [];
  return (
    <>
      <title>{`${title} · Gantrel`}</title>
      {heading && (
        <Typography variant="h1" sx={{ mb: 1.5 }}>
          {title}
        </Typography>
      )}
      <Trouble error={rows.error} />
      {rows.data && found.length === 0 && (
        <Paper>
          <Empty {...empty} />
        </Paper>
      )}
      {found.length > 0 && <PlainGrid aria-label={title} rows={found} columns={columns} />}
      {(found.length > 0 || after > 0) && (
        <Pager
          after={after}
          last={found.at(-1)?.id}
          more={rows.data?.next !== undefined}
          onMove={(next) => setAddress(next > 0 ? { after: String(next) } : {})}
        />
      )}
    </>
  );
}
