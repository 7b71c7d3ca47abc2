// How a decision reads: the verdict as a sentence, the check that refused large, what passed folded away.
import { Link } from "react-router";
import type { Action, Check, Decision } from "../../api/answers";
import { place } from "../../frame/issuers";
import { Line } from "../../parts/basics";
import { Mark, Told } from "../../parts/mark";
import { micros } from "../../parts/time";

export function issuerOf(decision: Decision, usual: string): string {
  return decision.issuer || usual;
}

export function sentence(it: Decision): string {
  const who = it.client || (it.client_id ? "a removed client" : "an unknown caller");
  const what = `${it.method} ${it.path}`;
  return it.verdict === "admitted" ? `Admitted: ${who} called ${what}` : `Refused: ${who} called ${what}`;
}

export function Verdict({ of, compact = false }: { of: Decision; compact?: boolean }) {
  return (
    <Told verdict={of.verdict === "admitted" ? "admitted" : "refused"}>
      {compact ? of.verdict : of.verdict === "admitted" ? "admitted" : (of.reason ?? "refused")}
    </Told>
  );
}

export function FixShown({ of, issuer }: { of: Decision; issuer: string }) {
  const fix = of.fix;
  if (!fix?.sentence) return null;
  const page = pageOf(fix.done_by, issuer);
  return (
    <div className="mt-3 rounded border border-hair bg-accent-shade px-4 py-3">
      <h2>How to fix it</h2>
      <p className="mt-1">
        {fix.sentence}
        {fix.who && <span className="text-faint"> Who: {fix.who}.</span>}
      </p>
      {fix.command && (
        <div className="mt-2">
          <Line>{fix.command}</Line>
        </div>
      )}
      {page && (
        <p className="mt-2">
          <Link to={page.to}>{page.words}</Link>
        </p>
      )}
    </div>
  );
}

/** The page where an act is done as well. */
export function pageOf(action: Action | null, issuer: string): { to: string; words: string } | null {
  if (!action) return null;
  const { thing, act } = action;
  const name = action.on[0] ?? "";
  const named = name !== "" && name !== name.toUpperCase();
  switch (thing) {
    case "client":
    case "secret":
      return named
        ? { to: place(issuer, "clients", name), words: `Open ${name}` }
        : { to: place(issuer, "clients"), words: "Open the clients" };
    case "approval":
      return act === "request" || act === "openid"
        ? named
          ? { to: place(issuer, "clients", name), words: `Open ${name}` }
          : { to: place(issuer, "clients"), words: "Open the clients" }
        : {
            to: place(issuer, "approvals") + `?status=&client=${encodeURIComponent(name)}`,
            words: "Answer it in Approvals",
          };
    case "api":
      return named
        ? { to: place(issuer, "apis", name), words: `Open ${name}` }
        : { to: place(issuer, "apis"), words: "Open the APIs" };
    case "scope":
    case "role":
      return {
        to: named ? place(issuer, "apis", name.split(".")[0] ?? "") : place(issuer, "apis"),
        words: "Open the API",
      };
    case "route":
      return {
        to: act === "add" ? place(issuer, "gateway", "new") : place(issuer, "gateway"),
        words: act === "add" ? "Add a route" : "Open the routes",
      };
    case "trusted-issuer":
      return {
        to: place(issuer, "gateway", "trusted-issuers", ...(named ? [name] : [])),
        words: "Open the trusted issuer",
      };
    case "upstream-credential":
      return {
        to: place(issuer, "gateway", "upstream-credentials", ...(named ? [name] : [])),
        words: "Open the upstream credential",
      };
    case "person":
      return { to: place(issuer, "people", ...(named ? [name] : [])), words: "Open the person" };
    case "owner":
      return { to: place(issuer, "people", "owners"), words: "Open the owners" };
    case "issuer":
      return { to: place(issuer, "settings", "issuer"), words: "Open the issuer's settings" };
    case "key":
      return { to: place(issuer, "keys"), words: "Open the keys" };
    default:
      return null;
  }
}

export function Checks({ of }: { of: Decision }) {
  const refused = of.checks.find((it) => it.outcome === "refused");
  const rest = of.checks.filter((it) => it !== refused);
  return (
    <div>
      {refused && (
        <div className="rounded border border-rust bg-rust-shade px-4 py-3">
          <p className="flex items-start gap-2 text-[1.0625rem] font-semibold text-rust">
            <Mark verdict="refused" size={15} />
            <span>
              {refused.check}: {of.reason}
            </span>
          </p>
          <dl className="mt-2 grid gap-3 sm:grid-cols-2">
            <div>
              <dt className="text-faint">Expected</dt>
              <dd className="break-words text-[1.0625rem]">{refused.expected}</dd>
            </div>
            <div>
              <dt className="text-faint">Received</dt>
              <dd className="break-words text-[1.0625rem]">{refused.received}</dd>
            </div>
          </dl>
        </div>
      )}
      <details className="mt-3 rounded border border-hair" open={!refused && rest.length > 0 ? true : undefined}>
        <summary className="cursor-pointer px-3 py-1.5">
          {rest.filter((it) => it.outcome === "passed").length} checks passed
          {rest.some((it) => it.outcome === "skipped")
            ? `, ${rest.filter((it) => it.outcome === "skipped").length} skipped`
            : ""}
        </summary>
        <ol className="border-t border-hair">
          {rest.map((it, index) => (
            <OneCheck key={it.check + index} of={it} />
          ))}
        </ol>
      </details>
    </div>
  );
}

function OneCheck({ of }: { of: Check }) {
  return (
    <li
      className={
        "grid gap-x-4 border-b border-hair px-3 py-1.5 " + "last:border-b-0 sm:grid-cols-[11rem_minmax(0,1fr)_auto]"
      }
    >
      <Told verdict={of.outcome === "passed" ? "admitted" : "ended"}>{of.check}</Told>
      <span className="min-w-0 break-words">
        {of.outcome === "passed" ? (
          <>
            {of.expected}
            {of.received && of.received !== of.expected && <span className="text-faint">; received {of.received}</span>}
          </>
        ) : (
          <span className="text-faint">skipped: {of.why}</span>
        )}
      </span>
      {of.nanos !== null && (
        <span className="text-[0.8125rem] text-faint tabular-nums">
          {micros(Math.round((of.nanos ?? 0) / 100) / 10)}
        </span>
      )}
    </li>
  );
}
