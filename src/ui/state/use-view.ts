"use client";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback } from "react";
import type { Route } from "@/api/route";
import type { ErrorRecord } from "@/core/errors";
import { ask, recordOf } from "@/ui/api";

/** Keeps data apart from activity: new data never blanks the old while it loads. */
export type Loaded<Reply> = {
  readonly data: Reply | null;
  readonly error: ErrorRecord | null;
  readonly loading: boolean;
  readonly reload: () => void;
};

/** Null means omitted: an address may lack a twin or case. */
type OrNull<Given> = { readonly [Key in keyof Given]: Given[Key] | null };

/** The key under which a view of a port is cached; everything of a port starts with its id. */
export const viewKey = (port: string, path: string, given: unknown = {}): readonly unknown[] => [port, path, given];

/** Loads what a GET route gives, and shares it with every other view that asks the same. `given` null loads nothing. */
export function useView<Given, Reply>(
  route: Route<Given, Reply>,
  given: NoInfer<OrNull<Given>> | null,
  port = "",
): Loaded<Reply> {
  const query = useQuery({
    queryKey: viewKey(port, route.path, given),
    queryFn: ({ signal }) => ask(route, withoutNulls(given), { port, signal }),
    enabled: given !== null,
    placeholderData: keepPreviousData,
  });
  const { refetch } = query;
  const reload = useCallback(() => void refetch(), [refetch]);
  return {
    data: query.data ?? null,
    error: query.error ? recordOf(query.error) : null,
    loading: query.isFetching,
    reload,
  };
}

// Without nulls, this is the route's input.
const withoutNulls = <Given>(given: OrNull<Given> | null): Given =>
  Object.fromEntries(Object.entries(given ?? {}).filter(([, value]) => value !== null)) as Given;
