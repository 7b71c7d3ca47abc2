// A method and path against the table: which route answers, and why.
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ofIssuer, query } from "../../api/http";
import { useThing } from "../../api/reading";
import { Tried } from "../../api/answers";
import { place, useTarget } from "../../frame/issuers";
import { Button, Line, Sentences, Show, shell } from "../../parts/basics";
import { Mark } from "../../parts/mark";
import { routeLabel } from "../../parts/words";

export function TryTable() {
  const issuer = useTarget();
  const [params, setParams] = useSearchParams();
  const asked = {
    method: params.get("method") ?? "GET",
    path: params.get("path") ?? "",
    host: params.get("host") ?? "",
  };
  const [typed, setTyped] = useState(asked);
  return (
    <>
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          setParams({ method: typed.method, path: typed.path, ...(typed.host ? { host: typed.host } : {}) });
        }}
      >
        <label>
          Method
          <select
            className="field !w-auto"
            value={typed.method}
            onChange={(event) => setTyped({ ...typed, method: event.target.value })}
          >
            {["GET", "POST", "PUT", "PATCH", "DELETE", "HEAD", "OPTIONS"].map((it) => (
              <option key={it}>{it}</option>
            ))}
          </select>
        </label>
        <label className="min-w-56 flex-1">
          Path
          <input
            className="field mono"
            value={typed.path}
            placeholder="/tides/north-quay"
            spellCheck={false}
            onChange={(event) => setTyped({ ...typed, path: event.target.value })}
          />
        </label>
        <label>
          Host, where one matters
          <input
            className="field mono"
            value={typed.host}
            spellCheck={false}
            onChange={(event) => setTyped({ ...typed, host: event.target.value })}
          />
        </label>
        <Button kind="act" type="submit">
          Try
        </Button>
      </form>
      {asked.path !== "" && <Answer issuer={issuer} asked={asked} />}
    </>
  );
}

function Answer({ issuer, asked }: { issuer: string; asked: { method: string; path: string; host: string } }) {
  const tried = useThing(Tried, ofIssuer(issuer, "table") + query(asked));
  return (
    <div className="mt-5" aria-live="polite">
      <Show of={tried} what="the table">
        {(it) => (
          <>
            <p className="mb-2 flex items-start gap-2 text-[1.0625rem] font-semibold">
              <Mark verdict={it.answers ? "admitted" : "refused"} />
              {it.answers ? (
                <>
                  Answered by{" "}
                  <Link className="mono" to={place(issuer, "gateway", "routes", it.answers.id)}>
                    {routeLabel(it.answers)}
                  </Link>
                </>
              ) : (
                "No route answers"
              )}
            </p>
            <Sentences of={it.said} />
            {it.answers && (
              <>
                <h2 className="mt-4 mb-1">What is in force there</h2>
                <Sentences of={it.answers.sentences} />
              </>
            )}
            <div className="mt-4">
              <Line>
                {`admit route try ${shell(asked.method)} ${shell(asked.path)}` +
                  `${asked.host ? ` --host ${shell(asked.host)}` : ""}`}
              </Line>
            </div>
          </>
        )}
      </Show>
    </div>
  );
}
