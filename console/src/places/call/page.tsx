// Call a route: request and answer, decision and curl side by side.
import { useState } from "react";
import { useLocation, useSearchParams } from "react-router";
import { useAct } from "../../api/changing";
import { ROOT, type Refused, ofIssuer, query } from "../../api/http";
import { useThing } from "../../api/reading";
import { Called, Client, Route, page } from "../../api/answers";
import { place, useIssuer, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, ButtonLink, Head, Line, Refusal, Section, shell } from "../../parts/basics";
import { Mark } from "../../parts/mark";
import { micros } from "../../parts/time";
import { routeLabel } from "../../parts/words";
import { Checks, FixShown, issuerOf } from "../decisions/parts";

type As = "nobody" | "client" | "person" | "token";
type Asked = {
  method: string;
  path: string;
  host: string;
  as: As;
  client: string;
  scope: string;
  token: string;
  headers: string;
  body: string;
};
const METHODS = ["GET", "POST", "PUT", "PATCH", "DELETE", "HEAD", "OPTIONS"];

export default function CallPage() {
  const chosen = useIssuer();
  const target = useTarget();
  const issuer = chosen === "~" ? target : chosen;
  const [params] = useSearchParams();
  const { hash } = useLocation();
  const { who } = useSession();
  const handed = hash.slice(1);
  const act = useAct();
  const clients = useThing(page(Client), ofIssuer(issuer, "clients") + query({ limit: 200 }));
  const routes = useThing(page(Route), ofIssuer(issuer, "routes") + query({ limit: 200 }));
  const [asked, setAsked] = useState<Asked>(() => ({
    method: params.get("method") ?? "GET",
    path: params.get("path") ?? "",
    host: params.get("host") ?? "",
    as: handed || params.get("as") === "person" ? "person" : params.get("client") ? "client" : "nobody",
    client: params.get("client") ?? "",
    scope: params.get("scope") ?? "",
    token: "",
    headers: "",
    body: params.get("body") ?? "",
  }));
  const [called, setCalled] = useState<Called | null>(null);
  const [refused, setRefused] = useState<Refused | null>(null);
  const [busy, setBusy] = useState(false);
  const set = (change: Partial<Asked>) => setAsked((before) => ({ ...before, ...change }));
  const kinds = new Map(
    clients.state === "ready" ? clients.value.items.map((it): [string, string] => [it.name, it.kind]) : [],
  );
  const back = new URLSearchParams(
    query({ method: asked.method, path: asked.path, host: asked.host, client: asked.client }).slice(1),
  ).toString();
  const signIn = ROOT + "/try" + query({ issuer, client: asked.client, scope: asked.scope, back });
  const signedInAs = handed && params.get("who");

  const send = async () => {
    setBusy(true);
    setRefused(null);
    const headers = Object.fromEntries(
      asked.headers
        .split("\n")
        .map((line) => line.trim())
        .filter((line) => line !== "")
        .map((line) => {
          const colon = line.indexOf(":");
          return colon < 1 ? [line, ""] : [line.slice(0, colon).trim(), line.slice(colon + 1).trim()];
        }),
    );
    if (asked.body && !Object.keys(headers).some((name) => name.toLowerCase() === "content-type"))
      headers["Content-Type"] = "application/json";
    const outcome = await act(Called, ofIssuer(issuer, "calls"), {
      method: "POST",
      body: {
        method: asked.method,
        path: asked.path,
        host: asked.host || undefined,
        headers,
        body: asked.body || undefined,
        ...(asked.as === "client"
          ? { client: asked.client, scope: asked.scope || undefined }
          : asked.as === "person"
            ? { person: handed }
            : asked.as === "token"
              ? { token: asked.token.trim().replace(/^Bearer\s+/i, "") }
              : {}),
      },
    });
    setBusy(false);
    if (outcome.done) setCalled(outcome.value);
    else {
      setRefused(outcome.refusal);
      setCalled(null);
    }
  };

  return (
    <>
      <Head
        title="Call a route"
        what={
          <>
            Through the gateway of <code>{issuer}</code>, sent by the service itself. Change one thing, and send it
            again.
          </>
        }
      />
      <div className="grid gap-8 lg:grid-cols-2">
        <form
          className="flex min-w-0 flex-col gap-4"
          onSubmit={(event) => {
            event.preventDefault();
            void send();
          }}
        >
          {params.get("problem") && (
            <p role="alert" className="rounded border border-rust bg-rust-shade px-3 py-2">
              {params.get("problem")}{" "}
              {params.get("decision") && (
                <ButtonLink to={place(issuer, "decisions", params.get("decision") ?? "")}>Why</ButtonLink>
              )}
            </p>
          )}
          {params.get("from") && (
            <p className="text-faint">
              From the decision <code>{params.get("from")}</code>; nothing of its body or headers was kept.
            </p>
          )}
          <div className="flex gap-2">
            <label>
              <span className="mb-1 block font-medium">Method</span>
              <select
                className="field !w-auto"
                value={asked.method}
                onChange={(event) => set({ method: event.target.value })}
              >
                {METHODS.map((it) => (
                  <option key={it}>{it}</option>
                ))}
              </select>
            </label>
            <label className="min-w-0 flex-1">
              <span className="mb-1 block font-medium">Path</span>
              <input
                className="field mono"
                list="paths"
                value={asked.path}
                placeholder="/tides/north-quay"
                spellCheck={false}
                required
                onChange={(event) => set({ path: event.target.value })}
              />
            </label>
            <datalist id="paths">
              {routes.state === "ready" &&
                routes.value.items.map((it) => (
                  <option key={it.id} value={it.path.replace(/\/\*\*$/, "/north-quay")}>
                    {routeLabel(it)}
                  </option>
                ))}
            </datalist>
          </div>
          <fieldset className="rounded border border-hair px-3 py-2">
            <legend className="px-1 font-medium">As</legend>
            <div className="flex flex-wrap gap-x-5 gap-y-1">
              {(
                [
                  ["nobody", "nobody, without a token"],
                  ["client", "a client, with a trial token"],
                  ["person", "a person who signs in for one"],
                  ["token", "the bearer of this token"],
                ] as [As, string][]
              ).map(([word, words]) => (
                <label key={word} className="flex items-center gap-2">
                  <input
                    type="radio"
                    name="as"
                    className="accent-(--accent)"
                    checked={asked.as === word}
                    onChange={() => set({ as: word })}
                  />
                  {words}
                </label>
              ))}
            </div>
            {(asked.as === "client" || asked.as === "person") && (
              <div className="mt-3 grid gap-3 sm:grid-cols-2">
                <label>
                  <span className="mb-1 block">Client</span>
                  <select
                    className="field"
                    value={asked.client}
                    onChange={(event) => set({ client: event.target.value })}
                  >
                    <option value="">choose one</option>
                    {[...kinds]
                      .filter(([, kind]) =>
                        asked.as === "client" ? kind === "machine" || asked.client !== "" : kind !== "machine",
                      )
                      .map(([name, kind]) => (
                        <option key={name} value={name}>
                          {name} ({kind})
                        </option>
                      ))}
                    {asked.client && !kinds.has(asked.client) && <option>{asked.client}</option>}
                  </select>
                </label>
                <label>
                  <span className="mb-1 block">Scope</span>
                  <input
                    className="field mono"
                    value={asked.scope}
                    placeholder="what it gets by default"
                    spellCheck={false}
                    onChange={(event) => set({ scope: event.target.value })}
                  />
                </label>
              </div>
            )}
            {asked.as === "person" && (
              <div className="mt-3">
                {signedInAs ? (
                  <p className="flex items-start gap-2">
                    <Mark verdict="admitted" />
                    <span>
                      {signedInAs} signed in for {params.get("client")}, for {params.get("scope")}. The trial token
                      lasts two minutes, and stays with the service. <a href={signIn}>Sign in anew</a>
                    </span>
                  </p>
                ) : asked.client ? (
                  <a
                    href={signIn}
                    className={
                      "inline-block rounded border border-faint bg-raised px-3 py-1 " +
                      "font-medium text-ink no-underline hover:bg-shade"
                    }
                  >
                    Sign in for {asked.client}
                  </a>
                ) : (
                  <p className="text-faint">
                    Choose the client first; then a person signs in at the issuer's own page, approves, and comes back
                    here.
                  </p>
                )}
              </div>
            )}
            {asked.as === "token" && (
              <label className="mt-3 block">
                <span className="mb-1 block">Access token</span>
                <textarea
                  className="field mono"
                  rows={3}
                  spellCheck={false}
                  autoComplete="off"
                  value={asked.token}
                  onChange={(event) => set({ token: event.target.value })}
                />
              </label>
            )}
          </fieldset>
          <details open={asked.headers !== "" || asked.body !== "" || asked.method !== "GET"}>
            <summary className="cursor-pointer">Headers, body, host</summary>
            <label className="mt-2 block">
              <span className="mb-1 block">Headers, one a line</span>
              <textarea
                className="field mono"
                rows={2}
                spellCheck={false}
                placeholder="Accept: application/json"
                value={asked.headers}
                onChange={(event) => set({ headers: event.target.value })}
              />
            </label>
            <label className="mt-2 block">
              <span className="mb-1 block">Body</span>
              <textarea
                className="field mono"
                rows={4}
                spellCheck={false}
                value={asked.body}
                onChange={(event) => set({ body: event.target.value })}
              />
            </label>
            <label className="mt-2 block">
              <span className="mb-1 block">Host, where a route has one</span>
              <input
                className="field mono"
                spellCheck={false}
                value={asked.host}
                onChange={(event) => set({ host: event.target.value })}
              />
            </label>
          </details>
          <p>
            <Button
              kind="act"
              type="submit"
              disabled={busy || (asked.as === "person" && !handed) || (asked.as === "client" && asked.client === "")}
            >
              {busy ? "Working…" : called ? "Send it again" : "Send it"}
            </Button>
          </p>
          <Section title="The same elsewhere">
            <div className="flex flex-col gap-2">
              <Line what="the command">{cli(asked)}</Line>
              <Line what="the curl line">{called?.curl ?? curl(asked, who.gateway)}</Line>
            </div>
          </Section>
        </form>
        <section aria-label="What was received" aria-live="polite" className="min-w-0">
          {refused && <Refusal of={refused} />}
          {!called && !refused && (
            <p className="rounded border border-dashed border-faint px-4 py-8 text-center text-faint">
              The answer and the decision stand here.
            </p>
          )}
          {called && <Answer of={called} issuer={issuer} />}
        </section>
      </div>
    </>
  );
}

function Answer({ of, issuer }: { of: Called; issuer: string }) {
  if (of.trial) {
    return (
      <>
        <p className="mb-3 flex items-start gap-2 text-[1.125rem] font-semibold">
          <Mark verdict="refused" size={15} />
          No token was given, so nothing was sent
        </p>
        <Checks of={of.trial} />
        <FixShown of={of.trial} issuer={issuer} />
      </>
    );
  }
  const admitted = of.decision ? of.decision.verdict === "admitted" : of.status < 400;
  const type = of.headers.find((it) => it.name.toLowerCase() === "content-type")?.value ?? "";
  return (
    <>
      <p className="mb-3 flex items-start gap-2 text-[1.125rem] font-semibold">
        <Mark verdict={admitted ? "admitted" : "refused"} size={15} />
        <span>
          {admitted ? "Admitted" : `Refused: ${of.decision?.reason ?? ""}`}, answered {of.status} in {micros(of.micros)}
        </span>
      </p>
      {of.decision && (
        <>
          <Checks of={of.decision} />
          <FixShown of={of.decision} issuer={issuerOf(of.decision, issuer)} />
        </>
      )}
      <h2 className="mt-5 mb-2">The answer</h2>
      <details className="mb-2 rounded border border-hair">
        <summary className="cursor-pointer px-3 py-1.5">{of.headers.length} headers</summary>
        <dl className="mono border-t border-hair px-3 py-2 text-[0.8125rem]">
          {of.headers.map((it, index) => (
            <div key={it.name + index} className="flex gap-2 break-all">
              <dt className="text-faint">{it.name}:</dt>
              <dd>{it.value}</dd>
            </div>
          ))}
        </dl>
      </details>
      <pre
        tabIndex={0}
        aria-label="Body of the answer"
        className="max-h-96 overflow-auto rounded bg-shade px-3 py-2 break-words whitespace-pre-wrap"
      >
        {of.body === "" ? "(no body)" : /json/.test(type) ? pretty(of.body) : of.body}
      </pre>
      {of.cut && <p className="mt-1 text-faint">It goes on; the first 256 KiB are shown.</p>}
      {of.decision && (
        <p className="mt-3 flex flex-wrap gap-2">
          <ButtonLink to={place(issuerOf(of.decision, issuer), "decisions", of.decision.id)}>
            Open the decision
          </ButtonLink>
        </p>
      )}
    </>
  );
}

function pretty(text: string): string {
  try {
    return JSON.stringify(JSON.parse(text), null, 2);
  } catch {
    return text;
  }
}

function cli(it: Asked): string {
  const as =
    it.as === "client"
      ? ` --trial ${shell(it.client || "CLIENT")}${it.scope ? ` --scope ${shell(it.scope)}` : ""}`
      : it.as === "token" || it.as === "person"
        ? ' --token "$TOKEN"'
        : "";
  const headers = it.headers
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line !== "")
    .map((line) => ` --header ${shell(line)}`)
    .join("");
  return (
    `admit call ${shell(it.method)} ${shell(it.path || "PATH")}` +
    `${as}${it.body ? ` -d ${shell(it.body)}` : ""}${headers}`
  );
}

function curl(it: Asked, gateway: string): string {
  return (
    `curl -s -i -X ${shell(it.method)}${it.as === "nobody" ? "" : ' -H "Authorization: Bearer $TOKEN"'} ` +
    `${shell(gateway + (it.path || "/PATH"))}`
  );
}
