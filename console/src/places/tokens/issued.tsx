import type { ColumnDef } from "@tanstack/react-table";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { type Row, useRows, useThing } from "../../api/reading";
import { ActiveTokens, Issued, Nothing } from "../../api/answers";
import { place, useIssuers, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Empty, Line, Refusal, Section, Show, Waiting, shell } from "../../parts/basics";
import { Sure } from "../../parts/dialogs";
import { Form } from "../../parts/form";
import { Told } from "../../parts/mark";
import { Table } from "../../parts/table";
import { Time, count } from "../../parts/time";

export function IssuedTokens() {
  const issuer = useTarget();
  const { shown } = useIssuers();
  const { may } = useSession();
  const act = useAct();
  const [params, setParams] = useSearchParams();
  const wanted = {
    client: params.get("client") ?? "",
    api: params.get("api") ?? "",
    active: params.get("active") ?? "",
  };
  const [typed, setTyped] = useState(wanted.client);
  const list = useRows(Issued, "/tokens", { ...wanted, client: shown.length === 1 ? wanted.client : "" });
  const active = useThing(ActiveTokens, ofIssuer(issuer, "tokens", "active"));
  const end = (row: Row<Issued>) =>
    act(
      Nothing,
      ofIssuer(row.issuer, "tokens", "revoke"),
      { method: "POST", body: { token: row.value.token_id } },
      () => ({ now: "The token is refused from the next request on." }),
    );
  const columns: ColumnDef<Row<Issued>>[] = [
    {
      id: "issued",
      header: "Issued",
      accessorFn: (row) => row.value.issued_at,
      cell: ({ row: { original } }) => <Time at={original.value.issued_at} />,
    },
    {
      id: "client",
      header: "To",
      accessorFn: (row) => row.value.client,
      cell: ({ row: { original } }) => (
        <Link to={place(original.issuer, "clients", original.value.client || original.value.client_id)}>
          {original.value.client || original.value.client_id}
        </Link>
      ),
    },
    {
      id: "scope",
      header: "Scope",
      accessorFn: (row) => row.value.scope,
      cell: ({ row: { original } }) => <span className="mono">{original.value.scope}</span>,
    },
    { id: "api", header: "API", accessorFn: (row) => row.value.api, meta: { aside: true } },
    {
      id: "state",
      header: "Status",
      accessorFn: (row) => row.value.ended ?? row.value.expires_at,
      cell: ({
        row: {
          original: { value },
        },
      }) =>
        value.ended ? (
          <Told verdict="refused">{value.ended}</Told>
        ) : Date.parse(value.expires_at) < Date.now() ? (
          <Told verdict="ended">expired</Told>
        ) : (
          <span>
            expires <Time at={value.expires_at} />
          </span>
        ),
    },
    {
      id: "from",
      header: "From",
      accessorFn: (row) => row.value.from ?? "",
      cell: (it) => <span className="mono">{String(it.getValue())}</span>,
      meta: { aside: true },
    },
    {
      id: "acts",
      header: "",
      enableSorting: false,
      cell: ({ row: { original } }) =>
        may.change &&
        !original.value.ended &&
        Date.parse(original.value.expires_at) > Date.now() && (
          <Button
            kind="danger"
            onClick={() => void end(original)}
            aria-label={`End the token of ${original.value.client}`}
          >
            End
          </Button>
        ),
    },
  ];
  return (
    <>
      <Show of={active} what="how many are active">
        {(it) => (
          <p className="mb-3">
            {it.exact ? "" : "About "}
            {count(it.total)} {it.total === 1 ? "token may be" : "tokens may be"} active
            {it.counts.length > 0 && (
              <>
                :{" "}
                {it.counts
                  .slice(0, 6)
                  .map((one) => `${count(one.tokens)} of ${one.client} for ${one.api}`)
                  .join(", ")}
              </>
            )}
            .
          </p>
        )}
      </Show>
      <form
        className="mb-3 flex flex-wrap items-end gap-2"
        role="search"
        onSubmit={(event) => {
          event.preventDefault();
          setParams({ ...(typed ? { client: typed } : {}), ...(wanted.active ? { active: wanted.active } : {}) });
        }}
      >
        <label>
          Client
          <input
            className="field mono"
            value={typed}
            spellCheck={false}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <Button type="submit">Find</Button>
        <Button
          aria-pressed={wanted.active === "true"}
          onClick={() =>
            setParams({
              ...(wanted.client ? { client: wanted.client } : {}),
              ...(wanted.active ? {} : { active: "true" }),
            })
          }
        >
          {wanted.active ? "Active only ×" : "Active only"}
        </Button>
      </form>
      {list.state === "loading" && <Waiting what="the tokens" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty title="No token fits">Every token that is issued is noted here, without the token itself.</Empty>
      )}
      {list.rows.length > 0 && (
        <Table
          label="Tokens that were issued"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.value.token_id}
          more={list.more}
          onEnd={list.fetchMore}
          fetching={list.fetching}
          height="50vh"
        />
      )}
      {may.change && (
        <div className="mt-6 border-t border-hair pt-5">
          <Section title="End many at once">
            <EndMany issuer={issuer} />
          </Section>
        </div>
      )}
      <div className="mt-5">
        <Line>
          {`admit token list${wanted.client ? ` --client ${shell(wanted.client)}` : ""}` +
            `${wanted.active ? " --active" : ""}`}
        </Line>
      </div>
    </>
  );
}

function EndMany({ issuer }: { issuer: string }) {
  const act = useAct();
  const [asked, setAsked] = useState<{ by: string; name: string } | null>(null);
  return (
    <>
      <Form
        start={{ by: "client", name: "" }}
        submit="Continue"
        cli={(values) => `admit token revoke --${shell(String(values.by))} ${shell(String(values.name || "NAME"))}`}
        fields={[
          {
            kind: "choice",
            name: "by",
            label: "Every token of",
            choices: [
              ["client", "a client"],
              ["api", "an API"],
              ["approval", "an approval, by its id"],
            ],
          },
          { kind: "text", name: "name", label: "Name", mono: true },
        ]}
        onSubmit={async (_, values) => {
          setAsked({ by: String(values.by), name: String(values.name ?? "") });
          return Promise.resolve(null);
        }}
      />
      {asked && (
        <div className="mt-3">
          <Sure
            label={`End every token of ${asked.name}`}
            title={`End every token of ${asked.name}`}
            explain="They are refused from the next request on. Clients fetch new ones by themselves."
            yes="End them"
            onYes={async () => {
              const outcome = await act(
                Nothing,
                ofIssuer(issuer, "tokens", "revoke"),
                { method: "POST", body: { [asked.by]: asked.name } },
                () => ({ now: `Every token of ${asked.name} is refused from now on.` }),
              );
              if (outcome.done) setAsked(null);
              return outcome.done ? null : outcome.refusal;
            }}
          />
        </div>
      )}
    </>
  );
}
