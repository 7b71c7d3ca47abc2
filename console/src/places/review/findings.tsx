// What deserves a second look, gathered from what the objects say of themselves.
import { Link } from "react-router";
import { useRows } from "../../api/reading";
import { AdminRoleChange, Client, Route } from "../../api/answers";
import { place } from "../../frame/issuers";
import { Empty, Line, Refusal, Waiting } from "../../parts/basics";
import { Mark } from "../../parts/mark";
import { Time } from "../../parts/time";
import { routeLabel } from "../../parts/words";

type Finding = { key: string; weight: "refused" | "waiting"; words: string; to: string; on: string; issuer: string };
const SOON = 14 * 86_400_000;

/** Who may run Admit since a short while, and from whom. */
function AdminRoles() {
  const changes = useRows(AdminRoleChange, "/people/admin-roles", { since: "30d" });
  if (changes.refusal) return <Refusal of={changes.refusal} />;
  if (changes.rows.length === 0) return null;
  return (
    <section aria-label="Admin roles of the last 30 days" className="mb-4">
      <h2 className="mb-2">Admin roles of the last 30 days</h2>
      <ul>
        {changes.rows.map(({ issuer, value }) => (
          <li
            key={value.at + value.email + value.after}
            className="grid gap-x-4 border-b border-hair py-2 sm:grid-cols-[20rem_minmax(0,1fr)]"
          >
            <span className="inline-flex min-w-0 items-start gap-2">
              <Mark verdict={value.after === "none" ? "admitted" : "waiting"} />
              <Link className="break-all" to={place(issuer, "people", value.email)}>
                {value.email}
              </Link>
            </span>
            <span>
              {value.after === "none" ? `No longer ${value.before}` : `Became ${value.after}`}, by {value.by},{" "}
              <Time at={value.at} />
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

export function Findings() {
  const routes = useRows(Route, "/routes", { limit: 200 });
  const clients = useRows(Client, "/clients", { limit: 200 });
  if (routes.state === "loading" || clients.state === "loading") return <Waiting what="what is there" />;
  const found: Finding[] = [
    ...routes.rows.flatMap(({ issuer, value }): Finding[] => {
      const to = place(issuer, "gateway", "routes", value.id);
      const on = routeLabel(value);
      return [
        ...(value.open
          ? [
              {
                key: value.id + "open",
                weight: "refused" as const,
                words: "Anyone may call it, without a token.",
                to,
                on,
                issuer,
              },
            ]
          : []),
        ...(value.who?.sign_in && value.path.startsWith("/")
          ? [
              {
                key: value.id + "shared",
                weight: "waiting" as const,
                words: "People sign in at the host that all issuers share. Name a host of this issuer in its path.",
                to,
                on,
                issuer,
              },
            ]
          : []),
        ...(value.any_scope
          ? [
              {
                key: value.id + "any",
                weight: "refused" as const,
                words: "Any token of its API may call it, whatever its scope.",
                to,
                on,
                issuer,
              },
            ]
          : []),
      ];
    }),
    ...clients.rows.flatMap(({ issuer, value }): Finding[] => {
      const to = place(issuer, "clients", value.name);
      const on = value.name;
      const soon = value.secrets.filter(
        (it) => it.expires_at !== null && Date.parse(it.expires_at) - Date.now() < SOON,
      );
      return [
        ...value.remarks.map((words): Finding => ({
          key: value.client_id + words,
          weight: "waiting",
          words,
          to,
          on,
          issuer,
        })),
        ...soon
          .filter(() => !value.remarks.some((it) => /run|secret/i.test(it)))
          .map((it): Finding => ({
            key: it.id,
            weight: "waiting",
            words: `The secret ${it.label ?? ""} expires soon, or has.`,
            to,
            on,
            issuer,
          })),
      ];
    }),
  ];
  found.sort((one, other) => one.weight.localeCompare(other.weight) || one.on.localeCompare(other.on));
  return (
    <>
      {routes.refusal && <Refusal of={routes.refusal} />}
      {clients.refusal && <Refusal of={clients.refusal} />}
      {found.length === 0 && (
        <Empty title="Nothing stands out">
          Open routes, secrets that expire, addresses for development and the like would stand here.
        </Empty>
      )}
      <AdminRoles />
      {found.length > 0 && <h2 className="mb-2">What stands out</h2>}
      <ul>
        {found.map((it) => (
          <li key={it.key} className="grid gap-x-4 border-b border-hair py-2 sm:grid-cols-[20rem_minmax(0,1fr)]">
            <span className="inline-flex min-w-0 items-start gap-2">
              <Mark verdict={it.weight} />
              <Link className="break-all" to={it.to}>
                {it.on}
              </Link>
            </span>
            <span>{it.words}</span>
          </li>
        ))}
      </ul>
      {clients.more && (
        <p className="mt-2">
          <button type="button" className="text-accent underline" onClick={clients.fetchMore}>
            Look through more clients
          </button>
        </p>
      )}
      <div className="mt-5">
        <Line>admit client list; admit route list</Line>
      </div>
    </>
  );
}
