import type { ColumnDef } from "@tanstack/react-table";
import { Link } from "react-router";
import { type Row, useRows } from "../../api/reading";
import { Route } from "../../api/answers";
import { place, useIssuers, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { ButtonLink, Empty, Line, Refusal, Tag, Waiting } from "../../parts/basics";
import { Table } from "../../parts/table";
import { routeLabel } from "../../parts/words";

export function RouteTable() {
  const list = useRows(Route, "/routes", { limit: 200 });
  const { shown } = useIssuers();
  const { may } = useSession();
  const target = useTarget();
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
    {
      id: "api",
      header: "API",
      accessorFn: (row) => row.value.api ?? "",
      cell: ({ row: { original } }) =>
        original.value.api ? (
          <Link className="mono" to={place(original.issuer, "apis", original.value.api)}>
            {original.value.api}
          </Link>
        ) : (
          <span className="text-faint">none</span>
        ),
      meta: { aside: true },
    },
    {
      id: "needs",
      header: "Needs",
      accessorFn: (row) => row.value.scopes.join(" "),
      cell: ({
        row: {
          original: { value },
        },
      }) =>
        value.open ? (
          <Tag tone="weak">open to anyone</Tag>
        ) : value.any_scope ? (
          <Tag tone="weak">any scope</Tag>
        ) : (
          <span className="mono">{value.scopes.join(value.mode === "any-of" ? " or " : " and ")}</span>
        ),
    },
    {
      id: "to",
      header: "Goes to",
      accessorFn: (row) => row.value.upstream ?? "",
      cell: ({
        row: {
          original: { value },
        },
      }) =>
        value.fixed_response ? (
          <span>fixed response {value.fixed_response.status ?? 200}</span>
        ) : (
          <span className="mono break-all">{value.upstream ?? "the API's upstream"}</span>
        ),
      meta: { aside: true },
    },
    {
      id: "rules",
      header: "Further rules",
      accessorFn: (row) => rules(row.value).length,
      cell: ({
        row: {
          original: { value },
        },
      }) => (
        <span className="flex flex-wrap gap-1">
          {rules(value).map((it) => (
            <Tag key={it}>{it}</Tag>
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
            accessorFn: (row: Row<Route>) => row.issuer,
            meta: { aside: true },
          } satisfies ColumnDef<Row<Route>>,
        ]
      : []),
  ];
  return (
    <>
      {list.state === "loading" && <Waiting what="the routes" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty
          title="No route yet"
          act={
            may.change && (
              <ButtonLink kind="act" to={place(target, "gateway", "new")}>
                Add a route
              </ButtonLink>
            )
          }
        >
          Every path is answered with 404 until one matches it.
        </Empty>
      )}
      {list.rows.length > 0 && (
        <Table
          label="Routes"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.value.id}
          more={list.more}
          onEnd={list.fetchMore}
          fetching={list.fetching}
        />
      )}
      <div className="mt-5">
        <Line>admit route list</Line>
      </div>
    </>
  );
}

function rules(route: Route): string[] {
  const who = route.who;
  return [
    ...(who?.for && who.for !== "anyone" ? [who.for] : []),
    ...(who?.clients?.length ? ["named clients"] : []),
    ...(who?.roles?.length ? ["roles"] : []),
    ...(who?.condition ? ["condition"] : []),
    ...(who?.subscription ? ["subscription"] : []),
    ...(who?.sign_in ? ["signs in"] : []),
    ...(who?.acr || who?.max_age ? ["step-up"] : []),
    ...(who?.issuers?.length ? ["issuers elsewhere"] : []),
    ...(route.limits?.rates?.length || route.limits?.quotas?.length ? ["limits"] : []),
    ...(route.transform?.credential ? ["credential"] : []),
    ...(route.cors ? ["pages"] : []),
  ];
}
