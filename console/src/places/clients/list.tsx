import type { ColumnDef } from "@tanstack/react-table";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { type Row, useRows } from "../../api/reading";
import { Client } from "../../api/answers";
import { place, useIssuers, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, ButtonLink, Empty, Head, Line, Refusal, Tag, Waiting, shell } from "../../parts/basics";
import { Told } from "../../parts/mark";
import { Table } from "../../parts/table";
import { Time } from "../../parts/time";

export default function Clients() {
  const [params, setParams] = useSearchParams();
  const narrowed = {
    search: params.get("search") ?? "",
    kind: params.get("kind") ?? "",
    tag: params.get("tag") ?? "",
    enabled: params.get("enabled") ?? "",
    sort: params.get("sort") ?? "",
  };
  const [typed, setTyped] = useState(narrowed.search);
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
  const list = useRows(Client, "/clients", narrowed);
  const { may, who } = useSession();
  const { shown } = useIssuers();
  const target = useTarget();
  const columns: ColumnDef<Row<Client>>[] = [
    {
      id: "name",
      header: "Client",
      accessorFn: (row) => row.value.name,
      cell: ({ row: { original } }) => (
        <Link to={place(original.issuer, "clients", original.value.name)}>{original.value.name}</Link>
      ),
    },
    { id: "client_name", header: "Client name", accessorFn: (row) => row.value.client_name, meta: { aside: true } },
    { id: "kind", header: "Kind", accessorFn: (row) => row.value.kind },
    {
      id: "standing",
      header: "Status",
      accessorFn: standing,
      cell: ({ row: { original } }) => <ClientState of={original.value} />,
    },
    {
      id: "tags",
      header: "Tags",
      accessorFn: (row) => row.value.tags.join(" "),
      cell: ({ row: { original } }) => (
        <span className="flex flex-wrap gap-1">
          {original.value.tags.map((tag) => (
            <Tag key={tag}>{tag}</Tag>
          ))}
        </span>
      ),
      meta: { aside: true },
    },
    ...(shown.length > 1
      ? [
          {
            id: "issuer",
            header: "Issuer",
            accessorFn: (row: Row<Client>) => row.issuer,
            meta: { aside: true },
          } satisfies ColumnDef<Row<Client>>,
        ]
      : []),
    {
      id: "created",
      header: "Registered",
      accessorFn: (row) => row.value.created_at,
      cell: ({ row: { original } }) => <Time at={original.value.created_at} />,
      meta: { aside: true },
    },
  ];
  const anything = narrowed.search || narrowed.kind || narrowed.tag || narrowed.enabled;
  return (
    <>
      <Head
        title="Clients"
        what="Who calls: what each may do, and what it still waits for."
        next={
          may.change &&
          who.admin_role && (
            <ButtonLink kind="act" to={place(target, "clients", "new")}>
              Register a client
            </ButtonLink>
          )
        }
      />
      <form
        role="search"
        className="mb-3 flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          put("search", typed.trim());
        }}
      >
        <input
          className="field !w-64"
          type="search"
          aria-label="Names, titles, owners, addresses that hold"
          placeholder="Name, contact, address"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            if (event.target.value === "") put("search", "");
          }}
        />
        <Button type="submit">Find</Button>
        <select
          className="field !w-auto"
          aria-label="Kind"
          value={narrowed.kind}
          onChange={(event) => put("kind", event.target.value)}
        >
          <option value="">any kind</option>
          {["machine", "web", "browser", "native", "device"].map((it) => (
            <option key={it}>{it}</option>
          ))}
        </select>
        <select
          className="field !w-auto"
          aria-label="On or off"
          value={narrowed.enabled}
          onChange={(event) => put("enabled", event.target.value)}
        >
          <option value="">on or off</option>
          <option value="true">on</option>
          <option value="false">off</option>
        </select>
        <select
          className="field !w-auto"
          aria-label="Order"
          value={narrowed.sort}
          onChange={(event) => put("sort", event.target.value)}
        >
          <option value="">by name</option>
          <option value="-created">newest first</option>
        </select>
        {narrowed.tag && <Button onClick={() => put("tag", "")}>tag {narrowed.tag} ×</Button>}
      </form>
      {list.state === "loading" && <Waiting what="the clients" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" &&
        list.rows.length === 0 &&
        (anything ? (
          <Empty
            title="No client fits"
            act={
              <Button
                onClick={() => {
                  setTyped("");
                  setParams({});
                }}
              >
                Show all
              </Button>
            }
          >
            Names, titles, owners, contacts, links, tags and redirect URIs are looked at.
          </Empty>
        ) : (
          <Empty
            title="No client is registered"
            act={
              may.change &&
              who.admin_role && (
                <ButtonLink kind="act" to={place(target, "clients", "new")}>
                  Register the first one
                </ButtonLink>
              )
            }
          >
            A client is what will call: a machine, an application with a server, a page, an installed program, or a
            device.
          </Empty>
        ))}
      {list.rows.length > 0 && (
        <Table
          label="Clients"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.value.client_id}
          more={list.more}
          onEnd={list.fetchMore}
          fetching={list.fetching}
        />
      )}
      <div className="mt-5">
        <Line>
          {`admit client list${narrowed.search ? ` --search ${shell(narrowed.search)}` : ""}` +
            `${narrowed.kind ? ` --kind ${narrowed.kind}` : ""}` +
            `${narrowed.enabled ? ` --enabled ${narrowed.enabled}` : ""}${narrowed.sort ? " --newest" : ""}`}
        </Line>
      </div>
    </>
  );
}

function standing(row: Row<Client>): string {
  if (!row.value.enabled) return "off";
  if (row.value.scopes.some((it) => it.status === "waiting")) return "waits";
  return row.value.missing.length > 0 ? "lacks" : "ready";
}

function ClientState({ of }: { of: Client }) {
  if (!of.enabled) return <Told verdict="ended">off</Told>;
  const waiting = of.scopes.filter((it) => it.status === "waiting").length;
  if (of.missing.length > 0 && waiting === 0) return <Told verdict="waiting">lacks something</Told>;
  return waiting > 0 ? (
    <Told verdict="waiting">{`${waiting} ${waiting === 1 ? "request waits" : "requests wait"}`}</Told>
  ) : (
    <Told verdict="admitted">ready</Told>
  );
}
