import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { useThing } from "../../api/reading";
import { Issuer, changed } from "../../api/answers";
import { place, useIssuers, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Facts, Line, Paste, Section, Show, shell } from "../../parts/basics";
import { Removal, Window } from "../../parts/dialogs";
import { Editable } from "../../parts/editable";
import { type Field, Form, type Values } from "../../parts/form";

const Changed = changed(Issuer);
const GRANTS: [string, string][] = [
  ["authorization_code", "a person signs in"],
  ["refresh_token", "goes on when the token expires"],
  ["client_credentials", "a client on its own"],
  ["urn:ietf:params:oauth:grant-type:device_code", "a person approves on another device"],
];
const TEXTS: Field[] = [
  { kind: "text", name: "title", label: "Title", cli: "--title" },
  {
    kind: "lines",
    name: "domains",
    label: "Domains that are its own",
    cli: "--domain",
    help: "Audiences elsewhere are remarked on.",
  },
  { kind: "area", name: "description", label: "Description", cli: "--description", rows: 2 },
];
const RULES: Field[] = [
  {
    kind: "text",
    name: "key_rotation",
    label: "The next key comes every",
    cli: "--key-rotation",
    placeholder: "90d, or none",
  },
  { kind: "text", name: "secret_lifetime", label: "Secrets expire after", cli: "--secret-lifetime" },
  { kind: "text", name: "max_secret_lifetime", label: "At longest after", cli: "--max-secret-lifetime" },
  {
    kind: "flag",
    name: "non_expiring_secrets",
    label: "Secrets without end",
    words: "May be made; each is marked.",
    cli: "--non-expiring-secrets",
  },
  {
    kind: "flag",
    name: "loopback_redirects",
    label: "Addresses for development",
    words: "Plain http on loopback is taken for clients that are not native.",
    cli: "--loopback-redirects",
  },
  { kind: "several", name: "grant_types", label: "Grant types that are on", cli: "--grant-type", choices: GRANTS },
];
const PEOPLE: Field[] = [
  {
    kind: "flag",
    name: "people/listed",
    label: "Named at the entrance",
    words: "The console's entrance names it to everyone who comes.",
    cli: "--listed",
  },
  {
    kind: "flag",
    name: "people/sign_up",
    label: "Sign-up",
    words: "Anyone may sign up; else people are added or invited.",
    cli: "--sign-up",
  },
  {
    kind: "flag",
    name: "people/second_factor",
    label: "Second factor",
    words: "Everyone needs one.",
    cli: "--second-factor",
  },
  {
    kind: "text",
    name: "people/session_idle_timeout",
    label: "A session ends when unused for",
    cli: "--session-idle-timeout",
  },
  { kind: "text", name: "people/max_session_age", label: "And in any case after", cli: "--max-session-age" },
];
function valuesOf(it: Issuer): Values {
  return {
    title: it.title,
    description: it.description ?? "",
    domains: it.domains,
    key_rotation: it.key_rotation ?? "none",
    secret_lifetime: it.secret_lifetime ?? "",
    max_secret_lifetime: it.max_secret_lifetime ?? "",
    non_expiring_secrets: it.non_expiring_secrets,
    loopback_redirects: it.loopback_redirects,
    grant_types: it.grant_types,
    "people/listed": it.people.listed === true,
    "people/sign_up": it.people.sign_up === true,
    "people/second_factor": it.people.second_factor === true,
    "people/session_idle_timeout": it.people.session_idle_timeout ?? "",
    "people/max_session_age": it.people.max_session_age ?? "",
  };
}

export function Issuers() {
  const { all } = useIssuers();
  const { who } = useSession();
  const [adding, setAdding] = useState(false);
  const act = useAct();
  const client = useQueryClient();
  const navigate = useNavigate();
  return (
    <>
      {who.all && (
        <p className="mb-3">
          <Button onClick={() => setAdding(true)}>Add an issuer</Button>
        </p>
      )}
      <ul>
        {all.map((it) => (
          <li
            key={it.name}
            className="flex flex-wrap items-start justify-between gap-3 border-b border-hair py-3 last:border-b-0"
          >
            <div className="min-w-0">
              <Link className="font-semibold" to={place(it.name, "settings", "issuer")}>
                {it.title}
              </Link>
              <p className="mono text-faint">{it.name}</p>
              <Paste text={it.url} what={`the URL of ${it.name}`} />
              {it.description && <p className="mt-1">{it.description}</p>}
            </div>
            {who.all && it.name !== "admit" && (
              <Removal
                label="Remove"
                title={`Remove the issuer ${it.name}`}
                explain="With everything it holds; its tokens and addresses end at once. Its audit stays."
                path={ofIssuer(it.name)}
                said={`The issuer ${it.name} is removed.`}
                onDone={() => {
                  void client.invalidateQueries({ queryKey: ["service"] });
                  void navigate("/~/settings");
                }}
              />
            )}
          </li>
        ))}
      </ul>
      <div className="mt-5">
        <Line>admit issuer list</Line>
      </div>
      {adding && (
        <Window
          open
          onClose={() => setAdding(false)}
          title="Add an issuer"
          what="With its own URL, keys, people, APIs and routes; a neighbour sees nothing of it."
        >
          <Form
            start={{ name: "", title: "" }}
            submit="Add it"
            onCancel={() => setAdding(false)}
            cli={(values) => `admit issuer add ${shell(String(values.name || "NAME"))}`}
            fields={[
              {
                kind: "text",
                name: "name",
                label: "Name, the last part of its URL",
                mono: true,
                placeholder: "harbour",
              },
              { kind: "text", name: "title", label: "Title", cli: "--title" },
            ]}
            onSubmit={async (body) => {
              const outcome = await act(Changed, "/issuers", { method: "POST", body }, (made) => ({
                now: `The issuer ${made.now.name} is there, with its keys and metadata.`,
              }));
              if (!outcome.done) return outcome.refusal;
              await client.invalidateQueries({ queryKey: ["service"] });
              setAdding(false);
              void navigate(place(outcome.value.now.name, "settings", "issuer"));
              return null;
            }}
          />
        </Window>
      )}
    </>
  );
}

export function IssuerSettings() {
  const issuer = useTarget();
  const path = ofIssuer(issuer);
  const { may } = useSession();
  const thing = useThing(Issuer, path);
  return (
    <Show of={thing} what="the issuer">
      {(it, etag) => {
        const common = {
          path,
          shape: Issuer,
          answer: Changed,
          valuesOf,
          thing: it,
          etag,
          may: may.runPeople,
          said: `${it.title} is changed.`,
          cli: `admit issuer change ${shell(it.name)}`,
        };
        return (
          <div className="max-w-3xl">
            <Section title="Connection details">
              <Facts
                of={[
                  ["URL", <Paste key="u" text={it.url} what="the URL" />],
                  [
                    "Metadata",
                    <Paste
                      key="m"
                      text={`${it.url}/.well-known/openid-configuration`}
                      what="the address of its metadata"
                    />,
                  ],
                  ["Key set", <Paste key="k" text={`${it.url}/jwks`} what="the address of its key set" />],
                ]}
              />
            </Section>
            <Editable {...common} title={`What ${it.name} is`} fields={TEXTS} />
            <Editable {...common} title="Keys, secrets and grants" fields={RULES} />
            <Editable {...common} title="How people sign in" fields={PEOPLE} />
          </div>
        );
      }}
    </Show>
  );
}
