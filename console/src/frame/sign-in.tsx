// Where people begin: whose person they are. The rest is their issuer's own page.
import { useState } from "react";
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

export function SignInPage() {
  const told = new URLSearchParams(window.location.search);
  const [issuer, setIssuer] = useState(() => told.get("issuer") ?? window.localStorage.getItem(KEPT) ?? firstOfPath());
  const problem = problems[told.get("problem") ?? ""];
  const go = () => {
    const name = issuer.trim();
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
      <form
        onSubmit={(event) => {
          event.preventDefault();
          go();
        }}
      >
        <label className="mb-1 block font-medium" htmlFor="issuer">
          Issuer
        </label>
        <input
          id="issuer"
          className="field mono"
          value={issuer}
          autoFocus
          autoCapitalize="none"
          spellCheck={false}
          autoComplete="organization"
          onChange={(event) => setIssuer(event.target.value)}
          aria-describedby="issuer-help"
        />
        <p id="issuer-help" className="mt-1 text-[0.8125rem] text-faint">
          The issuer that you are a person of. People who run the whole service belong to <code>admit</code>.
        </p>
        <Button kind="act" type="submit" className="mt-4 w-full py-1.5">
          Sign in at its page
        </Button>
      </form>
    </main>
  );
}

/** A person who followed a link to a page of an issuer is most likely one of its people. */
function firstOfPath(): string {
  const first = window.location.pathname.split("/")[2] ?? "";
  return /^[a-z0-9-]+$/.test(first) ? first : "";
}
