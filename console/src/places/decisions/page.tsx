// Every request, live: what passed and what did not, over time and by reason, and the list itself.
import { type InfiniteData, keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import type { ColumnDef } from "@tanstack/react-table";
import { Suspense, lazy, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { type Answered, ask, asRefused, query } from "../../api/http";
import { useConnection } from "../../api/live";
import { useThing } from "../../api/reading";
import { Count, Decision, page } from "../../api/answers";
import { ALL, place, useIssuer, useIssuers } from "../../frame/issuers";
import { Button, ButtonLink, Empty, Head, Line, Refusal, Waiting, shell } from "../../parts/basics";
import { Table } from "../../parts/table";
import { Time } from "../../parts/time";
import { Verdict, issuerOf } from "./parts";

const Charts = lazy(() => import("./charts"));
const Page = page(Decision);
const Counts = page(Count);
const STRETCH: Record<string, string> = { "15m": "1m", "1h": "5m", "1d": "1h", "7d": "6h", "30d": "1d" };
const NAMES = ["client", "person", "api", "route", "verdict", "reason", "endpoint", "since", "until"] as const;

export default function Decisions() {
  const issuer = useIssuer();
  const { all } = useIssuers();
  const connection = useConnection();
  const [params, setParams] = useSearchParams();
  const [still, setStill] = useState(false);
  const put = (name: string, value: string) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (value === "") next.delete(name);
        else next.set(name, value);
        return next;
      },
      { replace: true },
    );
  const said = Object.fromEntries(NAMES.map((name) => [name, params.get(name) ?? ""]));
  const span = said.since && said.since in STRETCH ? said.since : said.since ? "" : "1d";
  const wanted = { issuer: issuer === ALL ? "" : issuer, ...said, since: said.since || (span === "1d" ? "" : span) };
  const narrowed = NAMES.some((name) => said[name] !== "");
  const rows = useDecisions(wanted, still);
  const columns: ColumnDef<Decision>[] = useMemo(
    () => [
      {
        id: "at",
        header: "When",
        accessorFn: (it) => it.at,
        cell: ({ row: { original } }) => (
          <Link
            to={place(
              issuerOf(original, issuer === ALL ? (all[0]?.name ?? "admit") : issuer),
              "decisions",
              original.id,
            )}
          >
            <Time at={original.at} />
          </Link>
        ),
      },
      {
        id: "verdict",
        header: "Verdict",
        accessorFn: (it) => it.reason ?? it.verdict,
        cell: ({ row: { original } }) => <Verdict of={original} />,
      },
      {
        id: "request",
        header: "Request",
        accessorFn: (it) => `${it.method} ${it.path}`,
        cell: ({ row: { original } }) => (
          <span className="mono break-all">
            {original.method} {original.path}
          </span>
        ),
      },
      {
        id: "client",
        header: "Client",
        accessorFn: (it) => it.client,
        cell: ({ row: { original } }) => original.client || <span className="text-faint">unknown caller</span>,
      },
      {
        id: "route",
        header: "Route",
        accessorFn: (it) => it.route,
        cell: ({ row: { original } }) => <span className="mono">{original.route}</span>,
        meta: { aside: true },
      },
      { id: "endpoint", header: "Endpoint", accessorFn: (it) => it.endpoint, meta: { aside: true } },
      { id: "answered", header: "Answer", accessorFn: (it) => it.answered, meta: { aside: true, right: true } },
    ],
    [all, issuer],
  );
  return (
    <>
      <Head
        title="Decisions"
        what="Every request to the gateway and every token request: each check, its verdict, and how to fix it."
        next={
          <>
            <ButtonLink to={place(issuer, "decisions", "watch")}>Watch a client</ButtonLink>
            <Button aria-pressed={still} onClick={() => setStill((before) => !before)}>
              {still ? "Resume" : "Pause"}
            </Button>
          </>
        }
      >
        <span role="status" className="text-faint">
          {still
            ? "Held still: new ones wait."
            : connection === "open"
              ? "Live: new ones come by themselves."
              : "Waiting for the connection."}
        </span>
      </Head>
      <form
        className="mb-4 flex flex-wrap items-end gap-2"
        role="search"
        onSubmit={(event) => {
          event.preventDefault();
          const data = new FormData(event.currentTarget);
          setParams(
            Object.fromEntries(
              [...NAMES.filter((name) => name !== "since" && name !== "until"), "since"].flatMap((name) => {
                const value = data.get(name);
                return typeof value === "string" && value.trim() !== "" ? [[name, value.trim()]] : [];
              }),
            ),
            { replace: true },
          );
        }}
      >
        <Choice name="verdict" label="Verdict" value={said.verdict} onChange={put} of={["admitted", "refused"]} />
        <Choice
          name="endpoint"
          label="Where"
          value={said.endpoint}
          onChange={put}
          of={["gateway", "token", "sign-in", "admin"]}
        />
        <Choice
          name="since"
          label="Since"
          value={said.since}
          onChange={put}
          of={["15m", "1h", "1d", "7d", "30d"]}
          any="all that is kept"
        />
        {(["client", "person", "route", "reason", "api"] as const).map((name) => (
          <label key={name} className="text-[0.8125rem] text-faint">
            <span className="block">
              {{ client: "Client", person: "Person", route: "Route", reason: "Reason", api: "API" }[name]}
            </span>
            <input key={said[name]} className="field !w-36" name={name} defaultValue={said[name]} spellCheck={false} />
          </label>
        ))}
        <Button type="submit">Find</Button>
        {narrowed && <Button onClick={() => setParams({}, { replace: true })}>Show all</Button>}
      </form>
      <Suspense fallback={<div className="h-48" />}>
        <Figures wanted={wanted} per={STRETCH[span || "30d"] ?? "1h"} since={said.since || "1d"} onChoose={put} />
      </Suspense>
      {rows.state === "loading" && <Waiting what="the decisions" />}
      {rows.refusal && <Refusal of={rows.refusal} />}
      {rows.state === "ready" && rows.rows.length === 0 && (
        <Empty
          title={narrowed ? "No decision fits" : "No request came yet"}
          act={
            narrowed ? (
              <Button onClick={() => setParams({}, { replace: true })}>Show all</Button>
            ) : (
              <ButtonLink kind="act" to={place(issuer === ALL ? (all[0]?.name ?? "admit") : issuer, "call")}>
                Call a route
              </ButtonLink>
            )
          }
        >
          {narrowed
            ? "Decisions are kept for a set time; under load admitted ones are sampled."
            : "The first call, admitted or refused, shows here at once."}
        </Empty>
      )}
      {rows.rows.length > 0 && (
        <Table
          label="Decisions"
          rows={rows.rows}
          columns={columns}
          rowId={(it) => it.id}
          more={rows.more}
          onEnd={rows.fetchMore}
          fetching={rows.fetching}
        />
      )}
      <div className="mt-5">
        <Line>{`admit decision list${NAMES.filter((name) => said[name])
          .map((name) => ` --${name} ${shell(said[name] ?? "")}`)
          .join("")}`}</Line>
      </div>
    </>
  );
}

function Choice({
  name,
  label,
  value,
  onChange,
  of,
  any = "any",
}: {
  name: string;
  label: string;
  value: string | undefined;
  onChange: (name: string, value: string) => void;
  of: string[];
  any?: string;
}) {
  return (
    <label className="text-[0.8125rem] text-faint">
      <span className="block">{label}</span>
      <select
        name={name}
        className="field !w-auto text-ink"
        value={value}
        onChange={(event) => onChange(name, event.target.value)}
      >
        <option value="">{any}</option>
        {of.map((it) => (
          <option key={it}>{it}</option>
        ))}
      </select>
    </label>
  );
}

function Figures({
  wanted,
  per,
  since,
  onChoose,
}: {
  wanted: Record<string, string>;
  per: string;
  since: string;
  onChoose: (by: string, value: string) => void;
}) {
  const rate = useThing(Counts, "/decisions/counts" + query({ ...wanted, since, by: "verdict", per }), { keep: true });
  const [by, setBy] = useState("reason");
  const counted = useThing(
    Counts,
    "/decisions/counts" + query({ ...wanted, since, ...(by === "reason" ? { verdict: "refused" } : {}), by }),
    { keep: true },
  );
  if (rate.state !== "ready" || counted.state !== "ready") return <div className="h-48" />;
  if (rate.value.items.length === 0) return null;
  return (
    <Charts
      rate={rate.value.items}
      counted={counted.value.items}
      by={by}
      onBy={setBy}
      since={since}
      per={per}
      onChoose={(value) => onChoose(by, value)}
    />
  );
}

type Decided = {
  rows: Decision[];
  state: "loading" | "refused" | "ready";
  refusal: ReturnType<typeof asRefused> | null;
  more: boolean;
  fetchMore: () => void;
  fetching: boolean;
};

function useDecisions(wanted: Record<string, string>, still: boolean): Decided {
  const asked = useInfiniteQuery({
    queryKey: [still ? "decisions held" : "decisions", "list", query(wanted)],
    initialPageParam: null as string | null,
    queryFn: ({ pageParam, signal }) =>
      ask(Page, "/decisions" + query({ ...wanted, limit: 100, after: pageParam }), { signal }),
    getNextPageParam: (last) => last.value.next,
    placeholderData: keepPreviousData,
    maxPages: 50,
  });
  const data: InfiniteData<Answered<{ items: Decision[]; next: string | null }>> | undefined = asked.data;
  return {
    rows: data?.pages.flatMap((one) => one.value.items) ?? [],
    state: data ? "ready" : asked.error ? "refused" : "loading",
    refusal: asked.error ? asRefused(asked.error) : null,
    more: asked.hasNextPage,
    fetchMore: () => {
      if (asked.hasNextPage && !asked.isFetching) void asked.fetchNextPage();
    },
    fetching: asked.isFetchingNextPage,
  };
}
