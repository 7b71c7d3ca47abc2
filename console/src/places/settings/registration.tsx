// Whether clients may register themselves, and with which initial access tokens.
import { useState } from "react";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { useThing } from "../../api/reading";
import {
  InitialAccessToken,
  InitialAccessTokenMade,
  Nothing,
  Registration as Policy,
  changed,
  page,
} from "../../api/answers";
import { useIssuer } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Line, Section, Sentences, Show, shell } from "../../parts/basics";
import { Code } from "../../parts/code";
import { Editable } from "../../parts/editable";
import { type Field, Form, type Values } from "../../parts/form";
import { Time } from "../../parts/time";
import { KINDS } from "../../parts/words";

const PolicyChanged = changed(Policy);
const MODES: [string, string][] = [
  ["closed", "nobody: people register them"],
  ["with-token", "with an initial access token"],
  ["open", "everybody"],
];
const LIMITS: Field[] = [
  {
    kind: "several",
    name: "limits/kinds",
    label: "Kinds",
    cli: "--kind",
    choices: KINDS.map(([word, said]) => [word, said.slice(word.length + 2)]),
    none: "those that act for people",
  },
  {
    kind: "lines",
    name: "limits/scopes",
    label: "Scopes",
    cli: "--scope",
    cliRepeat: true,
    help: "One a line. None: those that people approve for themselves.",
  },
  {
    kind: "lines",
    name: "limits/redirect_domains",
    label: "Domains of redirect URIs",
    cli: "--redirect-domain",
    cliRepeat: true,
    help: "One a line, each with what lies beneath. None: any.",
  },
];
const FIELDS: Field[] = [
  { kind: "choice", name: "mode", label: "Who registers itself", cli: "--mode", choices: MODES },
  {
    kind: "choice",
    name: "approver",
    label: "Who approves what it requests",
    cli: "--approver",
    choices: [
      ["person", "the person who is asked, where the scope lets them"],
      ["administrator", "an administrator alone"],
    ],
  },
  ...LIMITS.map((field) => ({ ...field, when: (values: Values) => values["mode"] === "open" })),
];

export function Registration() {
  const issuer = useIssuer();
  const { may } = useSession();
  const path = ofIssuer(issuer, "registration");
  const policy = useThing(Policy, path);
  return (
    <Show of={policy} what="whether clients register themselves">
      {(it, etag) => (
        <>
          <Editable
            title="Registration"
            path={path}
            shape={Policy}
            answer={PolicyChanged}
            fields={FIELDS}
            valuesOf={(of): Values => ({
              mode: of.mode,
              approver: of.approver,
              "limits/kinds": of.limits.kinds ?? [],
              "limits/scopes": of.limits.scopes ?? [],
              "limits/redirect_domains": of.limits.redirect_domains ?? [],
            })}
            thing={it}
            etag={etag}
            may={may.approve}
            said="Who may register itself is changed."
            cli="admit registration change"
            facts={[
              ["Endpoint", <span className="mono break-all">{it.endpoint}</span>],
              ["Never used", `${it.unused} ${it.unused === 1 ? "client" : "clients"}`],
            ]}
            extra={
              <div className="mt-4">
                <Sentences of={it.sentences} />
              </div>
            }
          />
          <Tokens path={path + "/tokens"} may={may.change} />
        </>
      )}
    </Show>
  );
}

function Tokens({ path, may }: { path: string; may: boolean }) {
  const tokens = useThing(page(InitialAccessToken), path);
  const [adding, setAdding] = useState(false);
  const [made, setMade] = useState<InitialAccessTokenMade | null>(null);
  const act = useAct();
  return (
    <Section
      title="Initial access tokens"
      act={may && !adding && <Button onClick={() => setAdding(true)}>Make a token</Button>}
    >
      {made && (
        <div className="mb-4 rounded border border-hair bg-raised p-4" role="status">
          <p>The token of {made.now.label} is shown this once.</p>
          <Code name="token" text={made.token} />
          <p className="mt-3">A client registers with it:</p>
          <Line>{made.curl}</Line>
        </div>
      )}
      {adding && (
        <Form
          fields={[
            {
              kind: "text",
              name: "label",
              label: "What it is for",
              required: true,
              help: "You find it by this.",
            },
            { kind: "number", name: "uses", label: "Clients that may register with it", cli: "--uses", min: 1 },
            { kind: "text", name: "lifetime", label: "Lifetime", cli: "--lifetime", placeholder: "7d" },
            ...LIMITS,
          ]}
          start={{
            label: "",
            uses: 1,
            lifetime: "",
            "limits/kinds": [],
            "limits/scopes": [],
            "limits/redirect_domains": [],
          }}
          submit="Make the token"
          onCancel={() => setAdding(false)}
          cli={(values) => `admit registration token add ${shell(String(values["label"] || "LABEL"))}`}
          onSubmit={async (body) => {
            const outcome = await act(InitialAccessTokenMade, path, { method: "POST", body }, () => ({
              now: "The token is made.",
            }));
            if (!outcome.done) return outcome.refusal;
            setMade(outcome.value);
            setAdding(false);
            return null;
          }}
        />
      )}
      <Show of={tokens} what="the tokens">
        {(all) =>
          all.items.length === 0 ? (
            <p className="text-faint">None yet. With one, a client registers itself within the limits that it has.</p>
          ) : (
            <ul>
              {all.items.map((it) => (
                <li key={it.id} className="flex items-start justify-between gap-3 border-b border-hair py-2">
                  <span>
                    <span className="font-semibold">{it.label}</span>: {it.uses} {it.uses === 1 ? "use" : "uses"} left,
                    ends <Time at={it.expires_at} />, made by {it.made_by}
                  </span>
                  {may && (
                    <Button
                      aria-label={`Remove the token ${it.label}`}
                      onClick={() =>
                        void act(Nothing, `${path}/${encodeURIComponent(it.id)}`, { method: "DELETE" }, () => ({
                          now: "Nobody registers with it any more.",
                        }))
                      }
                    >
                      Remove
                    </Button>
                  )}
                </li>
              ))}
            </ul>
          )
        }
      </Show>
    </Section>
  );
}
