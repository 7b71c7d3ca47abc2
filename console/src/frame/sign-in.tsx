// Where people begin: whose person they are. The rest is their issuer's own page.
import { useState } from "react";
import type { Nobody } from "../api/answers";
import { ROOT, query } from "../api/http";
import { Button } from "../parts/basics";
import { Mark } from "../parts/mark";

const KEPT = "admit-console-issuer";
const problems: Record<string, string> = {
  issuer: "No issuer of this name is here. Check its spelling; it is the last part of its URL.",
  declined:
    "The sign-in was not finished, or is not allowed here. An " +
    "administrator can look at the decisions of the issuer for the reason.",
  lost: "The sign-in was begun too long ago, or in another browser. Begin again.",
  trial: "The trial could not go on: another person began it, or it began too long ago. Sign in, and begin it again.",
};

/** @param listed the issuers that are named to everyone who comes */
export function SignInPage({ listed }: { listed: Nobody["issuers"] }) {
  const told = new URLSearchParams(window.location.search);
  const usual = window.localStorage.getItem(KEPT) ?? firstOfPath();
  const [issuer, setIssuer] = useState(() => told.get("issuer") ?? usual);
  const problem = problems[told.get("problem") ?? ""];
  const go = (name: string) => {
    window.localStorage.setItem(KEPT, name);
    const here = window.location.pathname.replace(/^\/console/, "") || "/";
    window.location.assign(
      ROOT +
        "/sign-in" +
        query({
          issuer: name,
          to: told.get("problem") ? "/" : here + (told.size > 0 && !told.get("issuer") ? window.location.search : ""),
        }),
    );
  };
  // Decided once: what is typed must not fold away the box it is typed into.
  const [unfolded, setUnfolded] = useState(
    told.get("issuer") !== null || (issuer !== "" && !listed.some((it) => it.name === issuer)),
  );
  const other = (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        go(issuer.trim());
      }}
    >
      <label className="mb-1 block font-medium" htmlFor="issuer">
        Issuer
      </label>
      <input
        id="issuer"
        className="field mono"
        value={issuer}
        autoFocus={listed.length === 0}
        autoCapitalize="none"
        spellCheck={false}
        autoComplete="organization"
        onChange={(event) => setIssuer(event.target.value)}
        aria-describedby="issuer-help"
      />
      <p id="issuer-help" className="mt-1 text-[0.8125rem] text-faint">
        The issuer that you are a person of. People who run the whole service belong to <code>admit</code>.
      </p>
      <Button kind={listed.length === 0 ? "act" : undefined} type="submit" className="mt-4 w-full py-1.5">
        Sign in at its page
      </Button>
    </form>
  );
  return (
    <main className="mx-auto mt-[12vh] max-w-md px-5">
      <title>Sign in – Admit</title>
      <h1 className="mb-1">Admit</h1>
      <p className="mb-5 text-faint">Who may call which API, and why a request was refused.</p>
      {problem && (
        <p role="alert" className="mb-4 flex items-start gap-2 rounded border border-rust bg-rust-shade px-3 py-2">
          <Mark verdict="refused" />
          {problem}
        </p>
      )}
      {listed.length === 0 ? (
        other
      ) : (
        <>
          {/* The name stands beside the title: titles are each issuer's own words, and only names are one issuer's. */}
          {listed.map((it) => (
            <div key={it.name} className="mb-3">
              <Button kind="act" className="w-full py-1.5" onClick={() => go(it.name)}>
                Sign in at {it.title}
              </Button>
              <p className="mt-1 text-[0.8125rem] text-faint">
                The issuer <code>{it.name}</code> on this service.
              </p>
            </div>
          ))}
          <details
            className="mt-4 rounded border border-hair"
            open={unfolded}
            onToggle={(event) => setUnfolded(event.currentTarget.open)}
          >
            <summary className="cursor-pointer px-3 py-2 font-medium">Another issuer</summary>
            <div className="px-3 pt-1 pb-3">{other}</div>
          </details>
        </>
      )}
    </main>
  );
}

/** A person who followed a link to a page of an issuer is most likely one of its people. */
function firstOfPath(): string {
  const first = window.location.pathname.split("/")[2] ?? "";
  return /^[a-z0-9-]+$/.test(first) ? first : "";
}
