import type { ColumnDef } from "@tanstack/react-table";
import { Link } from "react-router";
import { type Row, useRows } from "../../api/reading";
import { Api } from "../../api/answers";
import { place, useIssuers, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { ButtonLink, Empty, Head, Line, Refusal, Waiting } from "../../parts/basics";
import { Table } from "../../parts/table";
import { Time } from "../../parts/time";

export default function Apis() {
  const list = useRows(Api, "/apis");
  const { may } = useSession();
  const { shown } = useIssuers();
  const target = useTarget();
  const columns: ColumnDef<Row<Api>>[] = [
    {
      id: "name",
      header: "API",
      accessorFn: (row) => row.value.name,
      cell: ({ row: { original } }) => (
        <Link className="mono" to={place(original.issuer, "apis", original.value.name)}>
          {original.value.name}
        </Link>
      ),
    },
    { id: "title", header: "Title", accessorFn: (row) => row.value.title },
    {
      id: "audience",
      header: "Audience",
      accessorFn: (row) => row.value.audience,
      cell: (it) => <span className="mono break-all">{String(it.getValue())}</span>,
      meta: { aside: true },
    },
    {
      id: "upstream",
      header: "Upstream",
      accessorFn: (row) => row.value.upstream ?? "",
      cell: (it) => <span className="mono break-all">{String(it.getValue()) || "none"}</span>,
      meta: { aside: true },
    },
    ...(shown.length > 1
      ? [{ id: "issuer", header: "Issuer", accessorFn: (row: Row<Api>) => row.issuer } satisfies ColumnDef<Row<Api>>]
      : []),
    {
      id: "created",
      header: "Added",
      accessorFn: (row) => row.value.created_at,
      cell: ({ row: { original } }) => <Time at={original.value.created_at} />,
      meta: { aside: true },
    },
  ];
  return (
    <>
      <Head
        title="APIs"
        what="What is protected: an audience, an upstream behind the gateway, and scopes."
        next={
          may.change && (
            <>
              <ButtonLink to={place(target, "apis", "import")}>Import</ButtonLink>
              <ButtonLink kind="act" to={place(target, "apis", "new")}>
                Add an API
              </ButtonLink>
            </>
          )
        }
      />
      {list.state === "loading" && <Waiting what="the APIs" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty
          title="No API is protected here"
          act={
            may.change && (
              <ButtonLink kind="act" to={place(target, "apis", "new")}>
                Add an API
              </ButtonLink>
            )
          }
        >
          An API is the first step: what it is called, where it is, and what may be done with it.
        </Empty>
      )}
      {list.rows.length > 0 && (
        <Table
          label="APIs"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.value.id}
          more={list.more}
          onEnd={list.fetchMore}
          fetching={list.fetching}
        />
      )}
      <div className="mt-5">
        <Line>admit api list</Line>
      </div>
    </>
  );
}
