// The keys of an issuer on a line of time: which signs, which comes next, which still verifies.
import { useState } from "react";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { useThing } from "../../api/reading";
import { Key, changed, page } from "../../api/answers";
import { useIssuers } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Head, Line, Section, Show, Tag } from "../../parts/basics";
import { Removal, Window } from "../../parts/dialogs";
import { Form } from "../../parts/form";
import { Told, verdictOf } from "../../parts/mark";
import { Time, useExact, useNow } from "../../parts/time";

export default function Keys() {
  const { shown } = useIssuers();
  return (
    <>
      <Head
        title="Keys"
        what={
          "What tokens are signed with. The next is published before it signs; the " +
          "one before verifies until its last token is gone."
        }
      />
      {shown.map((issuer) => (
        <OfIssuer
          key={issuer.name}
          issuer={issuer.name}
          title={issuer.title}
          rotation={issuer.key_rotation ?? "none"}
        />
      ))}
    </>
  );
}

const PURPOSE: Record<string, string> = { "access-token": "Access tokens", "id-token": "ID tokens" };

function OfIssuer({ issuer, title, rotation }: { issuer: string; title: string; rotation: string }) {
  const path = ofIssuer(issuer, "keys");
  const keys = useThing(page(Key), path);
  const { may } = useSession();
  const act = useAct();
  const [making, setMaking] = useState(false);
  return (
    <Section
      title={title}
      id={`keys-of-${issuer}`}
      act={may.change && <Button onClick={() => setMaking(true)}>Make the next key</Button>}
    >
      <p className="mb-3 text-faint">
        {rotation === "none" ? "No key comes by itself." : `The next comes by itself every ${rotation}.`}
      </p>
      <Show of={keys} what="the keys">
        {({ items }) => (
          <>
            {["access-token", "id-token"].map((purpose) => {
              const theirs = items.filter((it) => it.purpose === purpose);
              return theirs.length === 0 ? null : (
                <div key={purpose} className="mb-5">
                  <h3 className="mb-1">{PURPOSE[purpose]}</h3>
                  <TimeLine keys={theirs} />
                </div>
              );
            })}
            <ul>
              {items.map((it) => (
                <li
                  key={it.kid}
                  className="flex flex-wrap items-start justify-between gap-2 border-b border-hair py-2 last:border-b-0"
                >
                  <div className="min-w-0">
                    <span className="mono break-all">{it.kid}</span> <Tag>{it.alg}</Tag>{" "}
                    <Tag>{PURPOSE[it.purpose] ?? it.purpose}</Tag>
                    {it.imported && (
                      <>
                        {" "}
                        <Tag>brought in</Tag>
                      </>
                    )}
                    <p className="text-faint">
                      {it.state === "removed" ? (
                        <>
                          removed <Time at={it.removed_at} />
                        </>
                      ) : (
                        <>
                          signs from <Time at={it.signs_from} />
                          {it.signs_until && (
                            <>
                              {" "}
                              until <Time at={it.signs_until} />
                            </>
                          )}
                          {it.verifies_until && (
                            <>
                              , verifies until <Time at={it.verifies_until} />
                            </>
                          )}
                        </>
                      )}
                    </p>
                  </div>
                  <span className="flex items-center gap-3">
                    <Told verdict={verdictOf(it.state)}>{it.state}</Told>
                    {may.runPeople && it.state !== "removed" && it.state !== "retired" && (
                      <Removal
                        label="Remove"
                        title="Take this key out at once"
                        explain={
                          "For a key that was stolen: every token that it signed is refused from " +
                          "the next request on, and another key signs."
                        }
                        path={`${path}/${encodeURIComponent(it.kid)}`}
                        said="The key is out, and its tokens with it."
                      />
                    )}
                  </span>
                </li>
              ))}
            </ul>
          </>
        )}
      </Show>
      <div className="mt-3">
        <Line>{`admit key list --issuer ${issuer}`}</Line>
      </div>
      {making && (
        <Window
          open
          onClose={() => setMaking(false)}
          title="Make the next key"
          what="It is published at once, and signs after a time, so that everyone who checks has it by then."
        >
          <Form
            start={{ purpose: "access-token", alg: "", after: "", import: "" }}
            submit="Make it"
            onCancel={() => setMaking(false)}
            cli={() => `admit key rotate --issuer ${issuer}`}
            fields={[
              {
                kind: "choice",
                name: "purpose",
                label: "For",
                cli: "--purpose",
                choices: [
                  ["access-token", "access tokens"],
                  ["id-token", "ID tokens"],
                ],
              },
              {
                kind: "choice",
                name: "alg",
                label: "Algorithm",
                cli: "--alg",
                choices: [
                  ["", "as before"],
                  ["ES256", "ES256"],
                  ["RS256", "RS256"],
                  ["PS256", "PS256"],
                  ["EdDSA", "EdDSA"],
                ],
              },
              {
                kind: "text",
                name: "after",
                label: "It signs after",
                cli: "--after",
                placeholder: "1h",
                help: "Empty for as soon as everyone can have it.",
              },
              {
                kind: "area",
                name: "import",
                label: "Or import a private key: PEM or JWK",
                mono: true,
                rows: 4,
                help: "It is sealed, and never shown again.",
              },
            ]}
            onSubmit={async (body) => {
              const outcome = await act(changed(Key), path, { method: "POST", body }, () => ({
                now: "The next key is published.",
              }));
              if (outcome.done) setMaking(false);
              return outcome.done ? null : outcome.refusal;
            }}
          />
        </Window>
      )}
    </Section>
  );
}

function TimeLine({ keys }: { keys: Key[] }) {
  const now = useNow(60_000);
  const write = useExact();
  const time = (text: string | null) => (text ? Date.parse(text) : null);
  const spans = keys.map((it) => {
    const made = Date.parse(it.created_at);
    const removed = time(it.removed_at);
    const signsFrom = time(it.signs_from) ?? made;
    const signsUntil = removed ?? time(it.signs_until);
    const verifies = removed ?? time(it.verifies_until);
    return { key: it, made, signsFrom, signsUntil, verifies };
  });
  const first = Math.min(...spans.map((it) => it.made));
  const known = spans.flatMap((it) => [it.signsFrom, it.signsUntil ?? 0, it.verifies ?? 0]);
  const last = Math.max(now + (now - first) * 0.25 + 3_600_000, ...known);
  const x = (at: number) => 4 + (592 * (Math.min(Math.max(at, first), last) - first)) / Math.max(1, last - first);
  const row = 22;
  const words = spans
    .map(
      (it) =>
        `${it.key.kid}: ${it.key.state}, signs from ${write(it.signsFrom)}` +
        `${it.signsUntil ? ` until ${write(it.signsUntil)}` : ""}`,
    )
    .join("; ");
  return (
    <svg
      viewBox={`0 0 600 ${spans.length * row + 16}`}
      className="w-full max-w-4xl"
      role="img"
      aria-label={`Line of time. ${words}`}
    >
      {spans.map((it, index) => {
        const y = index * row + 4;
        const until = it.signsUntil ?? last;
        return (
          <g key={it.key.kid}>
            <rect
              x={x(it.made)}
              y={y + 5}
              width={Math.max(1, x(it.signsFrom) - x(it.made))}
              height="4"
              fill="var(--ochre)"
            />
            <rect
              x={x(it.signsFrom)}
              y={y}
              width={Math.max(2, x(until) - x(it.signsFrom))}
              height="14"
              rx="2"
              fill={it.key.state === "removed" ? "var(--rust)" : "var(--accent)"}
              opacity={it.key.state === "active" ? 1 : 0.55}
            />
            {it.signsUntil && it.verifies && it.verifies > it.signsUntil && (
              <rect
                x={x(it.signsUntil)}
                y={y + 5}
                width={Math.max(1, x(it.verifies) - x(it.signsUntil))}
                height="4"
                fill="var(--faint)"
              />
            )}
            <text x={x(it.signsFrom) + 5} y={y + 10.5} fontSize="8" fill="var(--on-accent)">
              {it.key.state}
            </text>
          </g>
        );
      })}
      <path d={`M${x(now)} 0v${spans.length * row + 2}`} stroke="var(--ink)" strokeWidth="1" />
      <text
        x={Math.min(Math.max(x(now), 14), 586)}
        y={spans.length * row + 12}
        fontSize="8.5"
        textAnchor="middle"
        fill="var(--ink)"
      >
        now
      </text>
      {x(now) > 130 && (
        <text x="4" y={spans.length * row + 12} fontSize="8.5" fill="var(--faint)">
          {write(first, false)}
        </text>
      )}
    </svg>
  );
}
