// In company of a developer who works elsewhere: how far their client has come, and what to change.
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ofIssuer, query } from "../../api/http";
import { useThing } from "../../api/reading";
import { Client, Watch, page } from "../../api/answers";
import { place, useTarget } from "../../frame/issuers";
import { Button, Empty, Head, Line, Show, shell } from "../../parts/basics";
import { Mark } from "../../parts/mark";
import { Time } from "../../parts/time";
import { Verdict, pageOf } from "./parts";

export default function WatchPage() {
  const issuer = useTarget();
  const [params, setParams] = useSearchParams();
  const client = params.get("client") ?? "";
  const [typed, setTyped] = useState(client);
  const known = useThing(page(Client), ofIssuer(issuer, "clients") + query({ limit: 50, search: typed }), {
    keep: true,
  });
  return (
    <>
      <Head
        title={client ? `Watching ${client}` : "Watch a client"}
        what={
          "What comes of it and of an unknown caller, what was missing, and what to " +
          "change, until its first request is admitted."
        }
      />
      <form
        className="mb-5 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          setParams({ client: typed.trim() });
        }}
      >
        <label className="min-w-56">
          Client
          <input
            className="field mono"
            list="clients"
            value={typed}
            spellCheck={false}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <datalist id="clients">
          {known.state === "ready" && known.value.items.map((it) => <option key={it.client_id} value={it.name} />)}
        </datalist>
        <Button kind="act" type="submit">
          Watch
        </Button>
      </form>
      {client === "" ? (
        <Empty title="Nobody is watched">
          Name the client whose developer is at work. This page follows by itself.
        </Empty>
      ) : (
        <Watched issuer={issuer} client={client} />
      )}
    </>
  );
}

function Watched({ issuer, client }: { issuer: string; client: string }) {
  const watch = useThing(Watch, ofIssuer(issuer, "clients", client, "watch"), { keep: true });
  return (
    <Show of={watch} what={client}>
      {(it) => {
        const there = it.next ? pageOf(it.next.done_by, issuer) : null;
        return (
          <div className="grid gap-8 lg:grid-cols-[20rem_minmax(0,1fr)]">
            <div>
              <h2 className="mb-2">How far it has come</h2>
              <ol className="flex flex-col gap-2">
                {it.steps.map((step) => (
                  <li key={step.said} className="flex items-start gap-2">
                    <Mark verdict={step.done ? "admitted" : "waiting"} />
                    <span className={step.done ? "" : "text-ochre-ink"}>{step.said}</span>
                  </li>
                ))}
              </ol>
              {it.admitted && (
                <p role="status" className="mt-4 rounded border border-accent bg-accent-shade px-3 py-2 font-semibold">
                  Its first request was admitted.
                </p>
              )}
              {it.next?.sentence && (
                <div className="mt-4 rounded border border-hair bg-raised px-4 py-3">
                  <h3>What comes next</h3>
                  <p className="mt-1">
                    {it.next.sentence}
                    {it.next.who && <span className="text-faint"> Who: {it.next.who}.</span>}
                  </p>
                  {it.next.command && (
                    <div className="mt-2">
                      <Line>{it.next.command}</Line>
                    </div>
                  )}
                  {there && (
                    <p className="mt-2">
                      <Link to={there.to}>{there.words}</Link>
                    </p>
                  )}
                </div>
              )}
              <div className="mt-4">
                <Line>{`admit client watch ${shell(client)}`}</Line>
              </div>
            </div>
            <section aria-labelledby="decisions" aria-live="polite">
              <h2 id="decisions" className="mb-2">
                What decisions
              </h2>
              {it.decisions.length === 0 && <p className="text-faint">Nothing yet, of it or of an unknown caller.</p>}
              <ul>
                {it.decisions.map((one) => (
                  <li
                    key={one.id}
                    className="grid gap-x-4 border-b border-hair py-2 sm:grid-cols-[7rem_12rem_minmax(0,1fr)]"
                  >
                    <Link to={place(issuer, "decisions", one.id)}>
                      <Time at={one.at} />
                    </Link>
                    <Verdict of={one} />
                    <span className="mono min-w-0 break-all">
                      {one.method} {one.path}
                      {!one.client && <span className="ml-2 font-sans text-faint">unknown caller</span>}
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          </div>
        );
      }}
    </Show>
  );
}
