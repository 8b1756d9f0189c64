import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { call, withQuery } from "../api/client";
import { Coming } from "./Asked";
import { Choice } from "./Choice";
import { Empty } from "./Empty";
import { PlainGrid, useListBar } from "./Grid";
import { LazyField } from "./LazyField";
import { sortedByService } from "./order";
import { Pager } from "./Pager";
import { Trouble } from "./Trouble";

const ROWS = 50;

/** A filter: one of some words, or, where none are listed, a word that one types. */
export type ListFilter = { name: string; label: string; options?: string[]; none?: string };

type Props<R extends { id: number }> = {
  title: string;
  path: string;
  columns: GridColDef<R>[];
  /** What is said where there is nothing. */
  empty: { title: string; hint: string };
  /** Whether the title stands above it. */
  heading?: boolean;
  /** By what the list can be narrowed down; each stands in the address. */
  filters?: ListFilter[];
  /** What the service calls the columns that it can sort by. */
  sorts?: Record<string, string>;
};

/** A page that is a list of the service's, newest first; where one is in it stands in the address. */
export function PagedTable<R extends { id: number }>(props: Props<R>) {
  const { title, path, columns, empty, heading = true, filters = [], sorts = {} } = props;
  const [address, setAddress] = useSearchParams();
  const after = Number(address.get("after") ?? 0);
  const asked = Object.fromEntries(filters.map(({ name }) => [name, address.get(name) ?? ""]));
  const bar = useListBar(title);
  const filtered = Object.values(asked).some((value) => value !== "");
  const change = (name: string, value: string) =>
    setAddress(
      (before) => {
        if (value) before.set(name, value);
        else before.delete(name);
        if (name !== "after") before.delete("after");
        return before;
      },
      { replace: name !== "after" },
    );
  const sort = address.get("sort") ?? "";
  const sorted = sortedByService(columns, { sort, by: sorts, onSort: (next) => change("sort", next) });
  const rows = useQuery({
    queryKey: [path.split("/").at(-1), path, after, asked, sort],
    queryFn: () =>
      call<R[]>("GET", withQuery(path, { ...asked, sort: sort || undefined, limit: ROWS, after: after || undefined })),
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
      {filters.length > 0 && (
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 1.5 }}>
          {filters.map(({ name, label, options, none }) =>
            options ? (
              <Choice
                key={name}
                label={label}
                value={asked[name]}
                options={["", ...options]}
                none={none ?? "all"}
                onChange={(value) => change(name, value)}
              />
            ) : (
              <LazyField
                key={name}
                label={label}
                value={asked[name]}
                onCommit={(value) => change(name, value.trim())}
              />
            ),
          )}
        </Box>
      )}
      <Trouble error={rows.error} />
      {rows.isPending && <Coming />}
      {rows.data && found.length === 0 && (
        <Paper>
          {filtered ? <Empty title="Nothing is like that" hint="Take a filter away." /> : <Empty {...empty} />}
        </Paper>
      )}
      {found.length > 0 && (
        <PlainGrid aria-label={title} rows={found} columns={sorted.columns} {...sorted.rest} {...bar} />
      )}
      {(rows.data?.next !== undefined || after > 0) && (
        <Pager
          after={after}
          last={found.at(-1)?.id}
          more={rows.data?.next !== undefined}
          onMove={(next) => change("after", next > 0 ? String(next) : "")}
        />
      )}
    </>
  );
}
