// Reading what is there: one thing, or a list of an issuer or of all that are shown.
import { type InfiniteData, keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useDebounce } from "use-debounce";
import * as v from "valibot";
import { useIssuers } from "../frame/issuers";
import { type Answered, type Refused, ask, asRefused, query } from "./http";
import { page } from "./answers";

export type Loaded<T> =
  { state: "loading" } | { state: "refused"; refusal: Refused } | { state: "ready"; value: T; etag: string | null };

export function useThing<T extends v.GenericSchema>(
  shape: T,
  path: string,
  options: { enabled?: boolean; keep?: boolean } = {},
): Loaded<v.InferOutput<T>> {
  const asked = useQuery({
    queryKey: keyOf(path),
    queryFn: ({ signal }): Promise<Answered<v.InferOutput<T>>> => ask(shape, path, { signal }),
    enabled: options.enabled ?? true,
    placeholderData: options.keep ? keepPreviousData : undefined,
  });
  if (asked.data) return { state: "ready", value: asked.data.value, etag: asked.data.etag };
  return asked.error ? { state: "refused", refusal: asRefused(asked.error) } : { state: "loading" };
}

/**
 * What the service says of a draft while it is typed: what it would mean, once it can be read. Nothing is saved.
 *
 * @param draft null while there is nothing to ask about
 */
export function usePreview<T extends v.GenericSchema>(shape: T, path: string, draft: unknown): v.InferOutput<T> | null {
  const [settled] = useDebounce(draft === null ? null : JSON.stringify(draft), 300);
  const asked = useQuery({
    queryKey: ["preview", path, settled],
    queryFn: ({ signal }): Promise<Answered<v.InferOutput<T>>> =>
      ask(shape, path, { method: "POST", body: JSON.parse(settled ?? "null") as unknown, signal }),
    enabled: settled !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });
  return settled === null ? null : (asked.data?.value ?? null);
}

/**
 * What a reading is known by: its issuer first, so that a change there wakes all of it; decisions apart, as they come
 * all the time.
 */
export function keyOf(path: string): readonly string[] {
  const of = /^\/issuers\/([^/?]+)(.*)$/.exec(path);
  if (of) return ["issuer", decodeURIComponent(of[1] ?? ""), of[2] ?? ""];
  return path.startsWith("/decisions") ? ["decisions", path] : ["service", path];
}

export type Row<T> = { issuer: string; value: T };
export type Rows<T> = {
  rows: Row<T>[];
  state: "loading" | "refused" | "ready";
  refusal: Refused | null;
  more: boolean;
  fetchMore: () => void;
  fetching: boolean;
};
type Cursor = { issuer: number; after: string | null };

/** A list of each issuer that is shown, one after the other; the next page comes when `fetchMore` is called. */
export function useRows<T extends v.GenericSchema>(
  shape: T,
  path: string,
  params: Record<string, string | number | boolean | null | undefined> = {},
): Rows<v.InferOutput<T>> {
  const { shown } = useIssuers();
  const issuers = shown.map((it) => it.name);
  const whole = page(shape);
  const asked = useInfiniteQuery({
    queryKey: ["issuer", issuers.length === 1 ? issuers[0] : "~", path, issuers.join(" "), query(params)],
    initialPageParam: { issuer: 0, after: null } as Cursor,
    queryFn: async ({ pageParam, signal }) => {
      const issuer = issuers[pageParam.issuer];
      if (issuer === undefined) return { rows: [] as Row<v.InferOutput<T>>[], next: null as Cursor | null };
      const got = await ask(
        whole,
        `/issuers/${encodeURIComponent(issuer)}${path}${query({ limit: 100, ...params, after: pageParam.after })}`,
        { signal },
      );
      const next: Cursor | null = got.value.next
        ? { issuer: pageParam.issuer, after: got.value.next }
        : pageParam.issuer + 1 < issuers.length
          ? { issuer: pageParam.issuer + 1, after: null }
          : null;
      return { rows: got.value.items.map((value: v.InferOutput<T>) => ({ issuer, value })), next };
    },
    getNextPageParam: (last) => last.next,
    enabled: issuers.length > 0,
    placeholderData: keepPreviousData,
  });
  const data: InfiniteData<{ rows: Row<v.InferOutput<T>>[]; next: Cursor | null }> | undefined = asked.data;
  const rows = data?.pages.flatMap((one) => one.rows) ?? [];
  const { hasNextPage, isFetching, fetchNextPage } = asked;
  const few = rows.length < 30;
  // Issuers without any fill no page: go on to the next until there is something to see.
  useEffect(() => {
    if (hasNextPage && !isFetching && few) void fetchNextPage();
  }, [few, fetchNextPage, hasNextPage, isFetching]);
  return {
    rows,
    state: data ? "ready" : asked.error ? "refused" : "loading",
    refusal: asked.error ? asRefused(asked.error) : null,
    more: asked.hasNextPage,
    fetchMore: () => {
      if (asked.hasNextPage && !asked.isFetching) void asked.fetchNextPage();
    },
    fetching: asked.isFetching,
  };
}
