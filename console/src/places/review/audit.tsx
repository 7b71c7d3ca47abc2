import type { ColumnDef } from "@tanstack/react-table";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { ROOT, ask, asRefused, ofIssuer, query } from "../../api/http";
import { type Row, useRows } from "../../api/reading";
import { AuditLine, AuditProof } from "../../api/answers";
import { useIssuers, useTarget } from "../../frame/issuers";
import { Button, Empty, Facts, Line, Refusal, Waiting, shell } from "../../parts/basics";
import { Window } from "../../parts/dialogs";
import { Told } from "../../parts/mark";
import { Table } from "../../parts/table";
import { Time, count } from "../../parts/time";

const NAMES = ["what", "who", "on", "since", "until"] as const;

export function Audit() {
  const [params, setParams] = useSearchParams();
  const said = Object.fromEntries(NAMES.map((name) => [name, params.get(name) ?? ""]));
  const list = useRows(AuditLine, "/audit", said);
  const { shown } = useIssuers();
  const target = useTarget();
  const [looking, setLooking] = useState<AuditLine | null>(null);
  const columns: ColumnDef<Row<AuditLine>>[] = [
    {
      id: "at",
      header: "When",
      accessorFn: (row) => row.value.at,
      cell: ({ row: { original } }) => (
        <button type="button" className="text-accent underline" onClick={() => setLooking(original.value)}>
          <Time at={original.value.at} />
        </button>
      ),
    },
    { id: "who", header: "Who", accessorFn: (row) => row.value.who },
    {
      id: "what",
      header: "What",
      accessorFn: (row) => row.value.what,
      cell: (it) => <span className="mono">{String(it.getValue())}</span>,
    },
    { id: "on", header: "On", accessorFn: (row) => row.value.on ?? "" },
    {
      id: "change",
      header: "Before and after",
      enableSorting: false,
      cell: ({ row: { original } }) => (
        <span className="line-clamp-2 mono text-[0.8125rem] break-all text-faint">
          {[original.value.before, original.value.after].filter((it) => it).join(" → ")}
        </span>
      ),
      meta: { aside: true },
    },
    ...(shown.length > 1
      ? [
          {
            id: "issuer",
            header: "Issuer",
            accessorFn: (row: Row<AuditLine>) => row.issuer,
            meta: { aside: true },
          } satisfies ColumnDef<Row<AuditLine>>,
        ]
      : []),
  ];
  return (
    <>
      <form
        role="search"
        className="mb-3 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          const data = new FormData(event.currentTarget);
          setParams(
            Object.fromEntries(
              NAMES.flatMap((name) => {
                const value = data.get(name);
                return typeof value === "string" && value.trim() ? [[name, value.trim()]] : [];
              }),
            ),
          );
        }}
      >
        {NAMES.map((name) => (
          <label key={name} className="text-[0.8125rem] text-faint">
            <span className="block">
              {{ what: "What", who: "Who", on: "On", since: "Since", until: "Until" }[name]}
            </span>
            <input
              key={said[name]}
              name={name}
              className="field !w-36"
              defaultValue={said[name]}
              placeholder={{ what: "client", who: "", on: "", since: "7d", until: "" }[name]}
              spellCheck={false}
            />
          </label>
        ))}
        <Button type="submit">Find</Button>
        {NAMES.some((name) => said[name]) && <Button onClick={() => setParams({})}>Show all</Button>}
        <a
          className="rounded border border-faint bg-raised px-3 py-1 font-medium text-ink no-underline hover:bg-shade"
          href={`${ROOT}/api${ofIssuer(target, "audit", "export")}`}
          download={`audit-${target}.jsonl`}
        >
          Export
        </a>
      </form>
      <Prove issuer={target} />
      {list.state === "loading" && <Waiting what="the audit" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty title="No line fits">
          What may be said: a kind such as client or client.changed, a name, a time or a length of time ago.
        </Empty>
      )}
      {list.rows.length > 0 && (
        <Table
          label="Audit"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.issuer + row.value.seq}
          more={list.more}
          onEnd={list.fetchMore}
          fetching={list.fetching}
        />
      )}
      <div className="mt-5">
        <Line>{`admit audit list${NAMES.filter((name) => said[name])
          .map((name) => ` --${name} ${shell(said[name] ?? "")}`)
          .join("")}`}</Line>
      </div>
      {looking && (
        <Window open wide onClose={() => setLooking(null)} title={`${looking.what} on ${looking.on ?? ""}`}>
          <Facts
            of={[
              ["When", <Time key="t" at={looking.at} exact />],
              ["Who", `${looking.who}${looking.from ? `, from ${looking.from}` : ""}`],
              ["Line", count(looking.seq)],
              [
                "Hash",
                <span key="h" className="mono break-all">
                  {looking.hash}
                </span>,
              ],
            ]}
          />
          {looking.before && (
            <>
              <h3 className="mt-4 mb-1">Before</h3>
              <pre tabIndex={0} className="max-h-60 overflow-auto rounded bg-shade px-3 py-2 whitespace-pre-wrap">
                {pretty(looking.before)}
              </pre>
            </>
          )}
          {looking.after && (
            <>
              <h3 className="mt-4 mb-1">After</h3>
              <pre tabIndex={0} className="max-h-60 overflow-auto rounded bg-shade px-3 py-2 whitespace-pre-wrap">
                {pretty(looking.after)}
              </pre>
            </>
          )}
        </Window>
      )}
    </>
  );
}

function Prove({ issuer }: { issuer: string }) {
  const [proof, setProof] = useState<{ whole: boolean; words: string } | "under way" | null>(null);
  const prove = async () => {
    setProof("under way");
    try {
      const { value } = await ask(AuditProof, ofIssuer(issuer, "audit", "check") + query({}));
      setProof({
        whole: value.whole,
        words: value.whole
          ? `Whole: lines ${count(value.first)} to ${count(value.last)} follow each other, and the ends are sealed.`
          : (value.fault ?? "It is not whole."),
      });
    } catch (error) {
      setProof({ whole: false, words: asRefused(error).message });
    }
  };
  return (
    <p className="mb-3 flex flex-wrap items-center gap-3" aria-live="polite">
      <Button onClick={() => void prove()} disabled={proof === "under way"}>
        {proof === "under way" ? "Reading every line" : "Prove that it is whole"}
      </Button>
      {proof && proof !== "under way" && <Told verdict={proof.whole ? "admitted" : "refused"}>{proof.words}</Told>}
    </p>
  );
}

function pretty(text: string): string {
  try {
    return JSON.stringify(JSON.parse(text), null, 2);
  } catch {
    return text;
  }
}
