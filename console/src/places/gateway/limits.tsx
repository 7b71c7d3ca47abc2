import type { ColumnDef } from "@tanstack/react-table";
import { Link } from "react-router";
import { type Row, useRows } from "../../api/reading";
import { Route } from "../../api/answers";
import { place } from "../../frame/issuers";
import { Empty, Line, Refusal, Waiting } from "../../parts/basics";
import { Table } from "../../parts/table";
import { count } from "../../parts/time";
import { routeLabel } from "../../parts/words";

export function Limits() {
  const list = useRows(Route, "/routes", { limit: 200 });
  const limited = list.rows.filter(
    ({ value: { limits } }) =>
      limits !== null &&
      ((limits.rates ?? []).length > 0 ||
        (limits.quotas ?? []).length > 0 ||
        limits.concurrent !== null ||
        limits.body !== null ||
        limits.headers !== null),
  );
  const columns: ColumnDef<Row<Route>>[] = [
    {
      id: "route",
      header: "Route",
      accessorFn: (row) => row.value.path,
      cell: ({ row: { original } }) => (
        <Link className="mono break-all" to={place(original.issuer, "gateway", "routes", original.value.id)}>
          {routeLabel(original.value)}
        </Link>
      ),
    },
    { id: "rates", header: "Rates", accessorFn: (row) => row.value.limits?.rates?.join("; ") ?? "" },
    { id: "quotas", header: "Quotas", accessorFn: (row) => row.value.limits?.quotas?.join("; ") ?? "" },
    {
      id: "once",
      header: "At once",
      accessorFn: (row) => row.value.limits?.concurrent ?? 0,
      cell: (it) => (it.getValue() === 0 ? "" : count(Number(it.getValue()))),
      meta: { aside: true, right: true },
    },
    {
      id: "body",
      header: "Body",
      accessorFn: (row) => row.value.limits?.body ?? 0,
      cell: (it) => (it.getValue() === 0 ? "" : `${count(Number(it.getValue()))} bytes`),
      meta: { aside: true, right: true },
    },
  ];
  return (
    <>
      {list.state === "loading" && <Waiting what="the limits" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && limited.length === 0 && (
        <Empty title="No route is limited">
          Rates, quotas, concurrent requests and sizes are set on each route's page.
        </Empty>
      )}
      {limited.length > 0 && <Table label="Limits" rows={limited} columns={columns} rowId={(row) => row.value.id} />}
      <div className="mt-5">
        <Line>{"admit route change GET '/tides/**' --rate '60 per 1m by client'"}</Line>
      </div>
    </>
  );
}
