import type { ColumnDef } from "@tanstack/react-table";
import { useState } from "react";
import { useAct } from "../../api/changing";
import { type Refused, ofIssuer, query } from "../../api/http";
import { type Row, useRows, useThing } from "../../api/reading";
import { Nothing, Revision, Route, page } from "../../api/answers";
import { useIssuers } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Empty, Line, Refusal, Sentences, Show, Waiting } from "../../parts/basics";
import { Confirm, Window } from "../../parts/dialogs";
import { Form } from "../../parts/form";
import { Table } from "../../parts/table";
import { Time } from "../../parts/time";
import { routeLabel } from "../../parts/words";

export function Revisions() {
  const list = useRows(Revision, "/revisions");
  const { may } = useSession();
  const { shown } = useIssuers();
  const [looking, setLooking] = useState<Row<Revision> | null>(null);
  const newest = new Map<string, number>();
  list.rows.forEach(({ issuer, value }) => newest.set(issuer, Math.max(newest.get(issuer) ?? 0, value.number)));
  const columns: ColumnDef<Row<Revision>>[] = [
    {
      id: "number",
      header: "Revision",
      accessorFn: (row) => row.value.number,
      cell: ({ row: { original } }) => (
        <span className="tabular-nums">
          {original.value.number}
          {newest.get(original.issuer) === original.value.number && <span className="ml-2 text-accent">in force</span>}
        </span>
      ),
    },
    {
      id: "changed",
      header: "What changed",
      accessorFn: (row) => row.value.changed.join(" "),
      cell: ({ row: { original } }) => <Sentences of={original.value.changed} />,
    },
    { id: "why", header: "Why", accessorFn: (row) => row.value.why ?? "", meta: { aside: true } },
    { id: "who", header: "Who", accessorFn: (row) => row.value.who, meta: { aside: true } },
    {
      id: "at",
      header: "When",
      accessorFn: (row) => row.value.at,
      cell: ({ row: { original } }) => <Time at={original.value.at} />,
    },
    ...(shown.length > 1
      ? [
          {
            id: "issuer",
            header: "Issuer",
            accessorFn: (row: Row<Revision>) => row.issuer,
            meta: { aside: true },
          } satisfies ColumnDef<Row<Revision>>,
        ]
      : []),
    {
      id: "acts",
      header: "",
      enableSorting: false,
      cell: ({ row: { original } }) => (
        <Button onClick={() => setLooking(original)} aria-label={`Look at revision ${original.value.number}`}>
          Look
        </Button>
      ),
    },
  ];
  return (
    <>
      {list.state === "loading" && <Waiting what="the revisions" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty title="No revision yet">Every change to the routes makes one.</Empty>
      )}
      {list.rows.length > 0 && (
        <Table
          label="Revisions"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.issuer + row.value.number}
          more={list.more}
          onEnd={list.fetchMore}
          fetching={list.fetching}
        />
      )}
      <div className="mt-5">
        <Line>admit revision list</Line>
      </div>
      {looking && (
        <Looking
          of={looking}
          may={may.change && newest.get(looking.issuer) !== looking.value.number}
          onClose={() => setLooking(null)}
        />
      )}
    </>
  );
}

function Looking({ of: { issuer, value }, may, onClose }: { of: Row<Revision>; may: boolean; onClose: () => void }) {
  const routes = useThing(page(Route), ofIssuer(issuer, "revisions", String(value.number), "routes"));
  const act = useAct();
  const [confirming, setConfirming] = useState<{ of: Refused; body: Record<string, unknown> } | null>(null);
  const restoreRevision = async (body: Record<string, unknown>, word?: string): Promise<Refused | null> => {
    const outcome = await act(
      Nothing,
      ofIssuer(issuer, "revisions", String(value.number), "restore") + query({ confirm: word }),
      { method: "POST", body },
      () => ({ now: `The routes stand as in revision ${value.number}.` }),
    );
    if (outcome.done) {
      setConfirming(null);
      onClose();
      return null;
    }
    if (!outcome.refusal.problem.confirm) return outcome.refusal;
    setConfirming({ of: outcome.refusal, body });
    return null;
  };
  return (
    <Window
      open
      wide
      onClose={onClose}
      title={`Revision ${value.number}`}
      what={`By ${value.who}${value.why ? `: ${value.why}` : ""}`}
    >
      <Show of={routes} what="its routes">
        {(it) => (
          <ul className="mono mb-4 max-h-72 overflow-y-auto">
            {it.items.map((route) => (
              <li key={route.id}>{routeLabel(route)}</li>
            ))}
          </ul>
        )}
      </Show>
      {may && (
        <Form
          fields={[{ kind: "text", name: "why", label: "Why it comes back", cli: "--why", wide: true }]}
          start={{ why: "" }}
          submit={`Restore revision ${value.number}`}
          onCancel={onClose}
          cli={() => `admit revision restore ${value.number}`}
          note={
            <p className="mb-3 text-faint">
              The routes stand again as they stood then; keys, withdrawals and switch-offs stay as they are now. It
              makes a revision of its own.
            </p>
          }
          onSubmit={(body) => restoreRevision(body)}
        />
      )}
      {confirming && (
        <Confirm
          of={confirming.of}
          title={`Restore revision ${value.number}`}
          onClose={() => setConfirming(null)}
          onYes={async (word) => {
            await restoreRevision(confirming.body, word);
          }}
        />
      )}
    </Window>
  );
}
