// What waits for an answer, and what was answered.
import type { ColumnDef } from "@tanstack/react-table";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { type Row, useRows } from "../../api/reading";
import { Approval, StandingApproval, changed } from "../../api/answers";
import { place, useIssuers } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Empty, Head, Line, Refusal, Waiting, shell } from "../../parts/basics";
import { Window } from "../../parts/dialogs";
import { Form } from "../../parts/form";
import { Told, verdictOf } from "../../parts/mark";
import { Table } from "../../parts/table";
import { Time } from "../../parts/time";

const Changed = changed(Approval);
/** Not a state of a request, but what answers requests that nobody made yet. */
const AHEAD = "ahead";
const STATES: [string, string][] = [
  ["waiting", "Waiting"],
  ["granted", "Granted"],
  ["declined", "Declined"],
  ["withdrawn", "Withdrawn"],
  ["expired", "Expired"],
  ["", "All"],
  [AHEAD, "Approved ahead"],
];

export default function Approvals() {
  const [params, setParams] = useSearchParams();
  const status = params.get("status") ?? "waiting";
  const client = params.get("client") ?? "";
  const scope = params.get("scope") ?? "";
  const put = (name: string, value: string) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        next.set(name, value);
        if (value === "" && name !== "status") next.delete(name);
        return next;
      },
      { replace: true },
    );
  const { shown } = useIssuers();
  // A client or a scope is of one issuer; where all are shown it is not narrowed by them.
  const one = shown.length === 1;
  const list = useRows(Approval, "/approvals", {
    status: status === AHEAD ? "granted" : status,
    client: one ? client : "",
    scope: one ? scope : "",
  });
  const [answering, setAnswering] = useState<{ row: Row<Approval>; how: "grant" | "decline" | "withdraw" } | null>(
    null,
  );
  const { may } = useSession();
  const act = useAct();
  const grant = async (row: Row<Approval>) => {
    await act(Changed, ofIssuer(row.issuer, "approvals", row.value.id, "grant"), { method: "POST", body: {} }, () => ({
      now: `${row.value.client} may use ${row.value.scope}.`,
      undo: async () => {
        await act(
          Changed,
          ofIssuer(row.issuer, "approvals", row.value.id, "withdraw"),
          { method: "POST", body: { reason: "taken back at once" } },
          () => ({ now: `${row.value.client} may use ${row.value.scope} no longer.` }),
        );
      },
    }));
  };
  const columns: ColumnDef<Row<Approval>>[] = [
    {
      id: "client",
      header: "Client",
      accessorFn: (row) => row.value.client,
      cell: ({ row: { original } }) => (
        <Link to={place(original.issuer, "clients", original.value.client)}>{original.value.client}</Link>
      ),
    },
    {
      id: "scope",
      header: "Scope",
      accessorFn: (row) => row.value.scope,
      cell: ({ row: { original } }) => (
        <div>
          <Link className="mono" to={place(original.issuer, "apis", original.value.api)}>
            {original.value.scope}
          </Link>
          <p className="text-faint max-sm:hidden">{original.value.consequence}</p>
          {original.value.waits_for && (
            <p className="text-[0.8125rem] text-ochre-ink sm:hidden">waits for {original.value.waits_for}</p>
          )}
        </div>
      ),
    },
    {
      id: "status",
      header: "Status",
      accessorFn: (row) => row.value.status,
      cell: ({ row: { original } }) => (
        <div>
          <Told verdict={verdictOf(original.value.status)}>{original.value.status}</Told>
          {original.value.waits_for && (
            <p className="text-[0.8125rem] text-ochre-ink">for {original.value.waits_for}</p>
          )}
          {original.value.reason && <p className="text-[0.8125rem] text-faint">{original.value.reason}</p>}
        </div>
      ),
      meta: { aside: status !== "" },
    },
    {
      id: "asked",
      header: "Requested",
      accessorFn: (row) => row.value.requested_at ?? "",
      cell: ({ row: { original } }) => (
        <>
          <Time at={original.value.requested_at} />
          <span className="block text-[0.8125rem] text-faint">by {original.value.requested_by}</span>
        </>
      ),
      meta: { aside: true },
    },
    {
      id: "decided",
      header: "Answered",
      accessorFn: (row) => row.value.decided_at ?? "",
      cell: ({ row: { original } }) =>
        original.value.decided_at ? (
          <>
            <Time at={original.value.decided_at} />
            <span className="block text-[0.8125rem] text-faint">
              by {original.value.decided_by}
              {original.value.by_standing_approval && ", ahead"}
            </span>
          </>
        ) : (
          <span className="text-faint">not yet</span>
        ),
      meta: { aside: true },
    },
    ...(one
      ? []
      : [
          {
            id: "issuer",
            header: "Issuer",
            accessorFn: (row: Row<Approval>) => row.issuer,
            meta: { aside: true },
          } satisfies ColumnDef<Row<Approval>>,
        ]),
    {
      id: "acts",
      header: "",
      enableSorting: false,
      cell: ({ row: { original } }) =>
        may.approve && (
          <span className="flex flex-wrap justify-end gap-2 lg:flex-nowrap [&>button]:whitespace-nowrap">
            {original.value.status === "granted" ? (
              <Button
                kind="danger"
                onClick={() => setAnswering({ row: original, how: "withdraw" })}
                aria-label={`Withdraw ${original.value.scope} from ${original.value.client}`}
              >
                Withdraw
              </Button>
            ) : (
              <>
                <Button
                  kind="act"
                  onClick={() => void grant(original)}
                  aria-label={`Grant ${original.value.scope} to ${original.value.client}`}
                >
                  Grant
                </Button>
                <Button
                  onClick={() => setAnswering({ row: original, how: "grant" })}
                  aria-label={`Grant ${original.value.scope} to ${original.value.client} for a time`}
                >
                  For a time
                </Button>
                {original.value.status === "waiting" && (
                  <Button
                    onClick={() => setAnswering({ row: original, how: "decline" })}
                    aria-label={`Decline ${original.value.scope} for ${original.value.client}`}
                  >
                    Decline
                  </Button>
                )}
              </>
            )}
          </span>
        ),
    },
  ];
  return (
    <>
      <Head title="Approvals" what="What waits, what was answered for everyone, and what is approved ahead." />
      <div className="mb-3 flex flex-wrap items-center gap-1" role="group" aria-label="Which">
        {STATES.map(([word, words]) => (
          <Button
            key={word}
            aria-pressed={status === word}
            className={status === word ? "!bg-accent-shade font-semibold" : ""}
            onClick={() => put("status", word)}
          >
            {words}
          </Button>
        ))}
        {client && one && <Button onClick={() => put("client", "")}>of {client} ×</Button>}
        {scope && one && <Button onClick={() => put("scope", "")}>{scope} ×</Button>}
      </div>
      {status === AHEAD && <Ahead one={one} />}
      {status !== AHEAD && (
        <>
          {list.state === "loading" && <Waiting what="the approvals" />}
          {list.refusal && <Refusal of={list.refusal} />}
          {list.state === "ready" && list.rows.length === 0 && (
            <Empty title={status === "waiting" ? "Nothing waits" : "There is none"}>
              {status === "waiting"
                ? "Every request has its answer. New ones come here by themselves."
                : "Choose another state above."}
            </Empty>
          )}
          {list.rows.length > 0 && (
            <Table
              label="Approvals"
              rows={list.rows}
              columns={columns}
              rowId={(row) => row.value.id}
              more={list.more}
              onEnd={list.fetchMore}
              fetching={list.fetching}
            />
          )}
        </>
      )}
      <div className="mt-5">
        <Line>
          {status === AHEAD
            ? "admit approval standing"
            : `admit approval list${status ? ` --status ${status}` : ""}${client ? ` --client ${shell(client)}` : ""}`}
        </Line>
      </div>
      {answering && <Answering row={answering.row} how={answering.how} onClose={() => setAnswering(null)} />}
    </>
  );
}

function Ahead({ one }: { one: boolean }) {
  const list = useRows(StandingApproval, "/approvals/standing", {});
  const columns: ColumnDef<Row<StandingApproval>>[] = [
    {
      id: "scope",
      header: "Scope",
      accessorFn: (row) => row.value.scope,
      cell: ({ row: { original } }) => (
        <Link className="mono" to={place(original.issuer, "apis", original.value.api)}>
          {original.value.scope}
        </Link>
      ),
    },
    { id: "whom", header: "Approved ahead for", accessorFn: (row) => row.value.sentence },
    { id: "clients", header: "Clients that have it by this", accessorFn: (row) => row.value.clients },
    {
      id: "set",
      header: "Set",
      accessorFn: (row) => row.value.set_at,
      cell: ({ row: { original } }) => (
        <>
          <Time at={original.value.set_at} />
          <span className="block text-[0.8125rem] text-faint">by {original.value.set_by}</span>
        </>
      ),
      meta: { aside: true },
    },
    ...(one
      ? []
      : [
          {
            id: "issuer",
            header: "Issuer",
            accessorFn: (row: Row<StandingApproval>) => row.issuer,
            meta: { aside: true },
          } satisfies ColumnDef<Row<StandingApproval>>,
        ]),
  ];
  if (list.state === "loading") return <Waiting what="what is approved ahead" />;
  if (list.refusal) return <Refusal of={list.refusal} />;
  if (list.rows.length === 0)
    return (
      <Empty title="Nothing is approved ahead">
        A scope can be approved ahead for clients of a kind, with a tag or of an owner: change the scope at its API.
      </Empty>
    );
  return (
    <Table
      label="Approved ahead"
      rows={list.rows}
      columns={columns}
      rowId={(row) => `${row.issuer} ${row.value.scope}`}
      more={list.more}
      onEnd={list.fetchMore}
      fetching={list.fetching}
    />
  );
}

function Answering({
  row,
  how,
  onClose,
}: {
  row: Row<Approval>;
  how: "grant" | "decline" | "withdraw";
  onClose: () => void;
}) {
  const act = useAct();
  const { client, scope } = row.value;
  const what = {
    grant: `${client} may then use ${scope} until then.`,
    decline: `${client} goes without ${scope}; who asked reads why.`,
    withdraw: `Tokens of ${client} with ${scope} are refused from the next request on, whether they expired or not.`,
  }[how];
  const said = {
    grant: `${client} may use ${scope}, for a time.`,
    decline: `${scope} is declined for ${client}.`,
    withdraw: `${scope} is withdrawn from ${client}.`,
  }[how];
  return (
    <Window
      open
      onClose={onClose}
      title={{ grant: "Grant for a time", decline: "Decline", withdraw: "Withdraw" }[how]}
      what={what}
    >
      <Form
        start={{ until: how === "grant" ? "90d" : "", reason: "" }}
        submit={{ grant: "Grant", decline: "Decline", withdraw: "Withdraw" }[how]}
        onCancel={onClose}
        cli={() => `admit approval ${shell(how)} ${shell(client)} ${shell(scope)}`}
        fields={
          how === "grant"
            ? [
                {
                  kind: "text",
                  name: "until",
                  label: "Until",
                  cli: "--until",
                  placeholder: "90d, or 2027-01-31T00:00:00Z",
                  wide: true,
                },
              ]
            : [{ kind: "area", name: "reason", label: "Reason", cli: "--reason", rows: 2 }]
        }
        onSubmit={async (body) => {
          const outcome = await act(
            Changed,
            ofIssuer(row.issuer, "approvals", row.value.id, how),
            { method: "POST", body },
            () => ({ now: said }),
          );
          if (outcome.done) onClose();
          return outcome.done ? null : outcome.refusal;
        }}
      />
    </Window>
  );
}
