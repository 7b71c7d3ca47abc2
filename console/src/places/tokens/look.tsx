import { useState } from "react";
import { Link } from "react-router";
import { useAct } from "../../api/changing";
import { type Refused, ofIssuer, query } from "../../api/http";
import { useThing } from "../../api/reading";
import { Client, Explained, Nothing, Trial, page } from "../../api/answers";
import type * as v from "valibot";
import { place, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Line, Section, Sentences, shell } from "../../parts/basics";
import { Sure } from "../../parts/dialogs";
import { Form } from "../../parts/form";
import { Mark, Told } from "../../parts/mark";
import { relativeTo, useExact, useNow } from "../../parts/time";
import { Checks, FixShown } from "../decisions/parts";
import { type Read, readToken, seconds, sentences } from "./read";

export function ReadToken() {
  const issuer = useTarget();
  const { may } = useSession();
  const [token, setToken] = useState("");
  const reading = readToken(token);
  return (
    <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <div className="min-w-0">
        <label htmlFor="token" className="mb-1 block font-medium">
          Paste a token
        </label>
        <textarea
          id="token"
          className="field mono"
          rows={5}
          spellCheck={false}
          autoComplete="off"
          value={token}
          onChange={(event) => setToken(event.target.value)}
          placeholder="eyJ…"
          aria-describedby="token-help"
        />
        <p id="token-help" className="mt-1 mb-4 text-[0.8125rem] text-faint">
          It is read in this page and goes nowhere, until you run a route's checks on it.
        </p>
        <div aria-live="polite">
          {reading.kind === "broken" && <Told verdict="refused">{reading.why}</Told>}
          {reading.kind === "opaque" && (
            <Told verdict="waiting">
              It is opaque: it means nothing outside. A route's checks tell whether it is good.
            </Told>
          )}
          {reading.kind === "jwt" && <JwtShown read={reading.read} issuer={issuer} />}
        </div>
        {(reading.kind === "jwt" || reading.kind === "opaque") && (
          <OnRoute issuer={issuer} token={token.trim().replace(/^Bearer\s+/i, "")} />
        )}
      </div>
      {may.change && <TrialMaker issuer={issuer} onMade={setToken} />}
    </div>
  );
}

function JwtShown({ read, issuer }: { read: Read; issuer: string }) {
  const { may } = useSession();
  const act = useAct();
  const id = typeof read.claims.jti === "string" ? read.claims.jti : null;
  const client = typeof read.claims.client_id === "string" ? read.claims.client_id : null;
  const registered = useThing(Client, ofIssuer(issuer, "clients", client ?? ""), {
    enabled: client !== null && client.startsWith("cl_"),
  });
  const known = registered.state === "ready" ? registered.value.name : null;
  return (
    <>
      <Section title="What it says">
        <Sentences of={sentences(read).map((said) => (known && client ? said.replaceAll(client, known) : said))} />
        {client && (
          <p className="mt-2">
            <Link to={place(issuer, "clients", client)}>Open the client</Link>
          </p>
        )}
      </Section>
      <Section title="When it is good">
        <TimeLine claims={read.claims} />
      </Section>
      <Section
        title="All of it"
        act={
          id &&
          may.change && (
            <Sure
              label="Revoke it"
              title="End this token"
              explain="It is refused from the next request on. The client can fetch another."
              yes="Revoke it"
              onYes={async (): Promise<Refused | null> => {
                const outcome = await act(
                  Nothing,
                  ofIssuer(issuer, "tokens", "revoke"),
                  { method: "POST", body: { token: id } },
                  () => ({ now: "The token is refused from the next request on." }),
                );
                return outcome.done ? null : outcome.refusal;
              }}
            />
          )
        }
      >
        <details>
          <summary className="cursor-pointer">Header and claims</summary>
          <pre tabIndex={0} className="mt-1 overflow-x-auto rounded bg-shade px-3 py-2">
            {JSON.stringify(read.header, null, 2)}
            {"\n"}
            {JSON.stringify(read.claims, null, 2)}
          </pre>
        </details>
        {id && (
          <div className="mt-3">
            <Line>{`admit token revoke --token ${shell(id)}`}</Line>
          </div>
        )}
      </Section>
    </>
  );
}

function TimeLine({ claims }: { claims: Record<string, unknown> }) {
  const now = useNow(1_000);
  const write = useExact();
  const from = seconds(claims.nbf) ?? seconds(claims.iat);
  const to = seconds(claims.exp);
  if (from === null || to === null)
    return <p className="text-faint">It does not say {from === null ? "since when" : "until when"}.</p>;
  const share = Math.max(0, Math.min(1, (now - from) / Math.max(1, to - from)));
  const state = now < from ? "not yet good" : now < to ? "good by its times" : "expired";
  return (
    <figure>
      <svg
        viewBox="0 0 600 46"
        className="w-full"
        role="img"
        aria-label={`From ${write(from)} to ${write(to)}; now it is ${state}`}
        preserveAspectRatio="none"
      >
        <rect x="20" y="18" width="560" height="8" fill="var(--shade)" />
        <rect x="20" y="18" width={560 * share} height="8" fill={now < to ? "var(--accent)" : "var(--rust)"} />
        <path d={`M${20 + 560 * share} 8v28`} stroke="var(--ink)" strokeWidth="2" />
      </svg>
      <figcaption className="flex flex-wrap justify-between gap-2">
        <span>{write(from)}</span>
        <span className="inline-flex items-start gap-1.5 font-semibold">
          <Mark verdict={now >= from && now < to ? "admitted" : "refused"} />
          {state}
          {now < to && now >= from ? `, expires ${relativeTo(now, to)}` : now >= to ? ` ${relativeTo(now, to)}` : ""}
        </span>
        <span>{write(to)}</span>
      </figcaption>
    </figure>
  );
}

function OnRoute({ issuer, token }: { issuer: string; token: string }) {
  const act = useAct();
  const [explained, setExplained] = useState<v.InferOutput<typeof Explained> | null>(null);
  return (
    <Section title="The checks of a route on it">
      <Form
        start={{ method: "GET", path: "", host: "" }}
        submit="Run the checks"
        cli={(values) =>
          `admit explain ${shell(String(values.method))} ${shell(String(values.path || "PATH"))} --token "$TOKEN"`
        }
        fields={[
          {
            kind: "choice",
            name: "method",
            label: "Method",
            choices: ["GET", "POST", "PUT", "PATCH", "DELETE"].map((it) => [it, it]),
          },
          { kind: "text", name: "path", label: "Path", mono: true, placeholder: "/tides/north-quay" },
          { kind: "text", name: "host", label: "Host, where one matters", mono: true },
        ]}
        onSubmit={async (body) => {
          const outcome = await act(Explained, ofIssuer(issuer, "explain"), {
            method: "POST",
            body: { ...body, token },
          });
          setExplained(outcome.done ? outcome.value : null);
          return outcome.done ? null : outcome.refusal;
        }}
      />
      {explained && (
        <div className="mt-4" aria-live="polite">
          <p className="mb-2 flex items-start gap-2 text-[1.0625rem] font-semibold">
            <Mark verdict={explained.decision.verdict === "admitted" ? "admitted" : "refused"} />
            {explained.decision.verdict === "admitted"
              ? "It would be admitted"
              : `It would be refused: ${explained.decision.reason ?? ""}`}
          </p>
          <Checks of={explained.decision} />
          <FixShown of={explained.decision} issuer={issuer} />
        </div>
      )}
    </Section>
  );
}

function TrialMaker({ issuer, onMade }: { issuer: string; onMade: (token: string) => void }) {
  const act = useAct();
  const clients = useThing(page(Client), ofIssuer(issuer, "clients") + query({ limit: 200 }));
  const choices: [string, string][] =
    clients.state === "ready"
      ? clients.value.items
          .filter((it) => it.grant_types.includes("client_credentials"))
          .map((it) => [it.name, it.name])
      : [];
  return (
    <aside aria-labelledby="trial" className="h-fit rounded border border-hair bg-raised px-4 py-3">
      <h2 id="trial" className="mb-1">
        Have a trial token made
      </h2>
      <p className="mb-3 text-faint">
        What the client would get, without its credential: for two minutes, with your name in it and in the audit.
      </p>
      <Form
        start={{ client: "", scope: "" }}
        submit="Make it"
        cli={(values) => `admit token trial ${shell(String(values.client || "CLIENT"))}`}
        fields={[
          { kind: "choice", name: "client", label: "As", choices: [["", "choose a client"], ...choices], wide: true },
          {
            kind: "text",
            name: "scope",
            label: "Scope",
            cli: "--scope",
            mono: true,
            wide: true,
            help: "Empty for what it gets when it names none.",
          },
        ]}
        onSubmit={async (body) => {
          const outcome = await act(Trial, ofIssuer(issuer, "tokens", "trial"), { method: "POST", body });
          if (outcome.done) onMade(outcome.value.token);
          return outcome.done ? null : outcome.refusal;
        }}
      />
    </aside>
  );
}
