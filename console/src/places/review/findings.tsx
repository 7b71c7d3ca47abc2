// What deserves a second look, gathered from what the objects say of themselves.
import { Link } from "react-router";
import { useRows } from "../../api/reading";
import { Client, Route } from "../../api/shapes";
import { place } from "../../frame/issuers";
import { Empty, Line, Refusal, Waiting } from "../../parts/basics";
import { Mark } from "../../parts/mark";
import { routeLabel } from "../../parts/words";

type Finding = { key: string; weight: "refused" | "waiting"; words: string; to: string; on: string; issuer: string };
const SOON = 14 * 86_400_000;

export function Findings() {
  const routes = useRows(Route, "/routes", { limit: 200 });
  const clients = useRows(Client, "/clients", { limit: 200 });
  if (routes.state === "loading" || clients.state === "loading") return <Waiting what="what is there" />;
  const found: Finding[] = [
    ...routes.rows.flatMap(({ issuer, value }): Finding[] => {
      const to = place(issuer, "gateway", "routes", value.id);
      const on = routeLabel(value);
      return [...(value.open ? [{ key: value.id + "open", weight: "refused" as const, words: "Anyone may call it, without a token.", to, on, issuer }] : []), ...(value.any_scope ? [{ key: value.id + "any", weight: "refused" as const, words: "Any token of its API may call it, whatever its scope.", to, on, issuer }] : [])];
    }),
    ...clients.rows.flatMap(({ issuer, value }): Finding[] => {
      const to = place(issuer, "clients", value.name);
      const on = value.name;
      const soon = value.secrets.filter((it) => it.expires_at !== null && Date.parse(it.expires_at) - Date.now() < SOON);
      return [
        ...value.remarks.map((words): Finding => ({ key: value.client_id + words, weight: "waiting", words, to, on, issuer })),
        ...soon.filter(() => !value.remarks.some((it) => /run|secret/i.test(it))).map((it): Finding => ({ key: it.id, weight: "waiting", words: `The secret ${it.label ?? ""} runs out soon, or has.`, to, on, issuer })),
      ];
    }),
  ];
  found.sort((one, other) => one.weight.localeCompare(other.weight) || one.on.localeCompare(other.on));
  return (
    <>
      {routes.refusal && <Refusal of={routes.refusal} />}{clients.refusal && <Refusal of={clients.refusal} />}
      {found.length === 0 && <Empty title="Nothing stands out">Open routes, secrets that run out, addresses for development and the like would stand here.</Empty>}
      <ul>{found.map((it) => <li key={it.key} className="grid gap-x-4 border-b border-hair py-2 sm:grid-cols-[16rem_minmax(0,1fr)]"><span className="inline-flex min-w-0 items-start gap-2"><Mark verdict={it.weight} /><Link className="break-all" to={it.to}>{it.on}</Link></span><span>{it.words}</span></li>)}</ul>
      {clients.more && <p className="mt-2"><button type="button" className="text-accent underline" onClick={clients.fetchMore}>Look through more clients</button></p>}
      <div className="mt-5"><Line>admit client list; admit route list</Line></div>
    </>
  );
}
