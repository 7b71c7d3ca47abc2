import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import * as v from "valibot";
import { useAct } from "../../api/changing";
import { ofIssuer, query } from "../../api/http";
import { useThing } from "../../api/reading";
import {
  Approval,
  Client,
  ClientMade,
  Connecting,
  MintingPreview,
  SecretMade,
  SecretOnce,
  Subscription,
  changed,
  page,
} from "../../api/answers";
import { place, useIssuer } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import {
  Button,
  ButtonLink,
  Empty,
  Facts,
  Head,
  Line,
  Paste,
  Section,
  Sentences,
  Show,
  Tag,
  WithRail,
  shell,
} from "../../parts/basics";
import { Code } from "../../parts/code";
import { Removal, Window } from "../../parts/dialogs";
import { Editable } from "../../parts/editable";
import { Form } from "../../parts/form";
import { Told, verdictOf } from "../../parts/mark";
import { Owners } from "../../parts/owners";
import { Piece } from "../../parts/piece";
import { useScopes } from "../../parts/scopes";
import { SecretShown } from "../../parts/secret";
import { Time } from "../../parts/time";
import { ADDRESS_FIELDS, PROOF_FIELDS, TEXT_FIELDS, clientValues } from "./fields";

const ClientChanged = changed(Client);
const ApprovalChanged = changed(Approval);
type Once = v.InferOutput<typeof SecretOnce>;

export default function ClientPage() {
  const issuer = useIssuer();
  const { client: name = "" } = useParams();
  const path = ofIssuer(issuer, "clients", name);
  const { may, who } = useSession();
  const navigate = useNavigate();
  const act = useAct();
  const client = useThing(Client, path);
  // After a copy the copy's page follows; its secret is shown first, as it is shown but once.
  const [secret, setSecret] = useState<{ once: Once; then?: string } | null>(null);
  const [copying, setCopying] = useState(false);
  const switchTo = async (on: boolean) => {
    await act(ClientChanged, `${path}/${on ? "on" : "off"}`, { method: "POST" }, () => ({
      now: on
        ? `${name} is on; it can fetch tokens again.`
        : `${name} is off; its tokens are refused from the next request on.`,
      undo: async () => {
        await act(ClientChanged, `${path}/${on ? "off" : "on"}`, { method: "POST" }, () => ({
          now: `${name} is ${on ? "off" : "on"} again.`,
        }));
      },
    }));
  };
  return (
    <Show of={client} what="the client">
      {(it, etag) => {
        const waiting = it.scopes.filter((one) => one.status === "waiting" && one.waits_for !== "each person");
        return (
          <>
            <Head
              title={it.client_name}
              what={
                <span className="flex flex-wrap items-center gap-x-3 gap-y-1">
                  <span className="mono">{it.name}</span>
                  <Tag>{it.kind}</Tag>
                  {!it.enabled && <Told verdict="ended">off: it gets no tokens</Told>}
                  {waiting.length > 0 && <Told verdict="waiting">{`${waiting.length} waiting`}</Told>}
                </span>
              }
              next={
                <>
                  {waiting.length > 0 && may.approve && (
                    <ButtonLink kind="act" to={place(issuer, "approvals") + query({ client: it.name })}>
                      Answer what waits
                    </ButtonLink>
                  )}
                  {waiting.length === 0 && it.enabled && it.scopes.length > 0 && may.change && who.admin_role && (
                    <ButtonLink
                      kind="act"
                      to={place(issuer, "call") + query({ client: it.name, as: it.kind === "machine" ? "" : "person" })}
                    >
                      Call as it
                    </ButtonLink>
                  )}
                  {who.admin_role && (
                    <ButtonLink to={place(issuer, "decisions", "watch") + query({ client: it.name })}>
                      Watch it
                    </ButtonLink>
                  )}
                  {may.change && (
                    <>
                      <Button onClick={() => void switchTo(!it.enabled)}>
                        {it.enabled ? "Switch off" : "Switch on"}
                      </Button>
                      {may.runPeople && <Button onClick={() => setCopying(true)}>Copy</Button>}
                      <Removal
                        label="Remove"
                        title={`Remove ${it.name}`}
                        explain={
                          "It goes with its secrets and approvals; its tokens are " +
                          "refused from the next request on."
                        }
                        path={path}
                        said={`${it.name} is removed.`}
                        onDone={() => void navigate(place(issuer, "clients"))}
                      />
                    </>
                  )}
                </>
              }
            />
            <WithRail
              rail={
                <>
                  <Sentences of={it.may} none="It may do nothing yet." />
                  {it.missing.length > 0 && (
                    <>
                      <h3 className="mt-3 mb-1 text-ochre-ink">What it lacks</h3>
                      <Sentences of={it.missing} />
                    </>
                  )}
                  {it.remarks.length > 0 && (
                    <>
                      <h3 className="mt-3 mb-1">Worth a second look</h3>
                      <Sentences of={it.remarks} />
                    </>
                  )}
                  <div className="mt-3">
                    <Line>{`admit client show ${shell(it.name)}`}</Line>
                  </div>
                  <Piece issuer={issuer} of="client" name={it.name} />
                </>
              }
            >
              <Connection path={path} name={it.name} />
              <RequestedScopes issuer={issuer} client={it} />
              <Editable
                title="Details"
                path={path}
                shape={Client}
                answer={ClientChanged}
                fields={TEXT_FIELDS}
                valuesOf={clientValues}
                thing={it}
                etag={etag}
                may={may.change}
                said={`${it.name} is changed.`}
                cli={`admit client change ${shell(it.name)}`}
              />
              <Secrets path={path} client={it} onSecret={(once) => setSecret({ once })} />
              <Editable
                title="How it proves itself, and gets tokens"
                path={path}
                shape={Client}
                answer={ClientChanged}
                fields={PROOF_FIELDS}
                valuesOf={clientValues}
                thing={it}
                etag={etag}
                may={may.change}
                said={`${it.name} is changed.`}
                cli={`admit client change ${shell(it.name)}`}
                extra={<Identity issuer={issuer} client={it} />}
              />
              {it.kind !== "machine" && it.kind !== "device" && (
                <Editable
                  title="Addresses"
                  path={path}
                  shape={Client}
                  answer={ClientChanged}
                  fields={ADDRESS_FIELDS}
                  valuesOf={clientValues}
                  thing={it}
                  etag={etag}
                  may={may.change}
                  said={`${it.name} is changed.`}
                  cli={`admit client change ${shell(it.name)}`}
                />
              )}
              <Minted path={path} client={it} />
              <Plans issuer={issuer} client={it.name} />
              {who.admin_role && <Owners issuer={issuer} kind="client" name={it.name} owners={it.owners} />}
            </WithRail>
            {secret && (
              <SecretShown
                of={secret.once}
                onClose={() => {
                  setSecret(null);
                  if (secret.then) void navigate(secret.then);
                }}
              />
            )}
            {copying && (
              <Window
                open
                onClose={() => setCopying(false)}
                title={`Another client like ${it.name}`}
                what="It has a secret of its own; what it requests waits anew."
              >
                <Form
                  fields={[{ kind: "text", name: "name", label: "Its name", mono: true, wide: true }]}
                  start={{ name: "" }}
                  submit="Copy"
                  cli={(values) => `admit client copy ${shell(it.name)} ${shell(String(values.name || "NAME"))}`}
                  onSubmit={async (body) => {
                    const outcome = await act(ClientMade, `${path}/copy`, { method: "POST", body }, (made) => ({
                      now: `${made.now.name} is there.`,
                    }));
                    if (!outcome.done) return outcome.refusal;
                    setCopying(false);
                    const then = place(issuer, "clients", outcome.value.now.name);
                    if (outcome.value.secret) setSecret({ once: outcome.value.secret, then });
                    else void navigate(then);
                    return null;
                  }}
                />
              </Window>
            )}
          </>
        );
      }}
    </Show>
  );
}

function RequestedScopes({ issuer, client }: { issuer: string; client: Client }) {
  const { may } = useSession();
  const act = useAct();
  const [asking, setAsking] = useState(false);
  const { scopes: requested } = client;
  const scopes = useScopes(asking ? issuer : "~");
  return (
    <Section title="Scopes" act={may.change && <Button onClick={() => setAsking(true)}>Request more</Button>}>
      {requested.length === 0 && (
        <Empty
          title="It requests nothing"
          act={
            may.change && (
              <Button kind="act" onClick={() => setAsking(true)}>
                Request a scope
              </Button>
            )
          }
        >
          Without a request there is nothing to approve, and nothing it may do.
        </Empty>
      )}
      <ul>
        {requested.map((it) => (
          <li
            key={it.id}
            className={
              "flex flex-wrap items-start justify-between gap-2 border-b " +
              "border-hair py-2 first:pt-0 last:border-b-0"
            }
          >
            <div className="min-w-0">
              <Link className="mono" to={place(issuer, "apis", it.api)}>
                {it.scope}
              </Link>
              <p>{it.consequence}</p>
              {it.waits_for && <p className="text-ochre-ink">Waits for {it.waits_for}</p>}
              {it.reason && <p className="text-faint">Because: {it.reason}</p>}
              {it.expires_at && (
                <p className="text-faint">
                  Until <Time at={it.expires_at} />
                </p>
              )}
            </div>
            <span className="flex items-center gap-3">
              <Told verdict={verdictOf(it.status)}>{it.status}</Told>
              {may.change && it.status !== "granted" && (
                <Button
                  onClick={() =>
                    void act(v.unknown(), ofIssuer(issuer, "approvals", it.id), { method: "DELETE" }, () => ({
                      now: `${client.name} requests ${it.scope} no longer.`,
                      undo: async () => {
                        await act(
                          ApprovalChanged,
                          ofIssuer(issuer, "approvals"),
                          { method: "POST", body: { client: client.name, scope: it.scope } },
                          () => ({ now: "It requests it again." }),
                        );
                      },
                    }))
                  }
                >
                  Drop
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {asking && (
        <Window
          open
          wide
          onClose={() => setAsking(false)}
          title={`What more ${client.name} requests`}
          what="It waits for an answer, unless it is approved ahead."
        >
          <Form
            start={{ scopes: [], role: "" }}
            submit="Ask"
            cli={(values) =>
              (Array.isArray(values.scopes) && values.scopes.length > 0 ? values.scopes : ["SCOPE"])
                .map((scope) => `admit approval request ${shell(client.name)} ${shell(scope)}`)
                .join("; ")
            }
            fields={[
              {
                kind: "several",
                name: "scopes",
                label: "Scopes",
                choices: scopes
                  .filter((it) => !requested.some((one) => one.scope === it.name))
                  .map((it): [string, string] => [it.name, it.consequence_reads.administrator]),
                none: "It requests every scope there is.",
              },
              { kind: "text", name: "role", label: "Or a role, with all its scopes", mono: true },
            ]}
            onSubmit={async (_, values) => {
              if (typeof values.role === "string" && values.role !== "") {
                const outcome = await act(
                  v.unknown(),
                  ofIssuer(issuer, "approvals", "roles"),
                  { method: "POST", body: { client: client.name, role: values.role } },
                  () => ({ now: `${client.name} requests the role ${String(values.role)}.` }),
                );
                if (!outcome.done) return outcome.refusal;
              }
              for (const scope of Array.isArray(values.scopes) ? values.scopes : []) {
                const outcome = await act(
                  ApprovalChanged,
                  ofIssuer(issuer, "approvals"),
                  { method: "POST", body: { client: client.name, scope } },
                  () => ({ now: `${client.name} requests ${scope}.` }),
                );
                if (!outcome.done) return outcome.refusal;
              }
              setAsking(false);
              return null;
            }}
          />
        </Window>
      )}
    </Section>
  );
}

function Secrets({ path, client, onSecret }: { path: string; client: Client; onSecret: (secret: Once) => void }) {
  const { may } = useSession();
  const act = useAct();
  const [making, setMaking] = useState<"add" | "replace" | null>(null);
  if (client.token_endpoint_auth_method === "none" || client.token_endpoint_auth_method === "private_key_jwt") {
    return (
      <Section title="Credentials">
        <p className="text-faint">
          {client.token_endpoint_auth_method === "none"
            ? `A client of kind ${client.kind} cannot keep a credential, and has none.`
            : "It signs with a key of its own; Admit knows the public half."}
        </p>
        {client.jwks && (
          <details className="mt-2">
            <summary className="cursor-pointer">Its key set</summary>
            <pre tabIndex={0} className="mt-1 overflow-x-auto rounded bg-shade px-3 py-2">
              {JSON.stringify(client.jwks, null, 2)}
            </pre>
          </details>
        )}
      </Section>
    );
  }
  return (
    <Section
      title="Credentials"
      act={
        may.change && (
          <span className="flex gap-2">
            <Button onClick={() => setMaking("add")}>Add a secret</Button>
            <Button onClick={() => setMaking("replace")}>Replace</Button>
          </span>
        )
      }
    >
      {client.secrets.length === 0 && <p className="text-ochre-ink">It has no secret, and so can fetch no tokens.</p>}
      <ul>
        {client.secrets.map((it) => (
          <li
            key={it.id}
            className={
              "flex flex-wrap items-center justify-between gap-2 border-b " +
              "border-hair py-2 first:pt-0 last:border-b-0"
            }
          >
            <span>
              <span className="font-medium">{it.label}</span>{" "}
              <span className="text-faint">
                made <Time at={it.created_at} />, used <Time at={it.used_at} />,{" "}
                {it.expires_at ? (
                  <>
                    expires <Time at={it.expires_at} />
                  </>
                ) : (
                  "never expires"
                )}
              </span>
            </span>
            {may.change && (
              <Removal
                label="Remove"
                title={`Remove the secret ${it.label ?? ""}`}
                explain={
                  "The client can prove itself with it no longer. Tokens that it " +
                  "fetched live on until they expire."
                }
                path={`${path}/secrets/${it.id}`}
                said={`The secret ${it.label ?? ""} is removed.`}
              />
            )}
          </li>
        ))}
      </ul>
      {making && (
        <Window
          open
          onClose={() => setMaking(null)}
          title={making === "add" ? "Add a secret" : "Replace the secrets"}
          what={
            making === "add"
              ? "Several may overlap."
              : "The others expire after an overlap, so that nothing stands still."
          }
        >
          <Form
            start={{ label: "", lifetime: "", overlap: "" }}
            submit={making === "add" ? "Make it" : "Replace"}
            cli={() => `admit secret ${shell(making)} ${shell(client.name)}`}
            fields={[
              { kind: "text", name: "label", label: "Label", cli: "--label" },
              { kind: "text", name: "lifetime", label: "Runs out after", cli: "--lifetime", placeholder: "90d" },
              ...(making === "replace"
                ? [
                    {
                      kind: "text",
                      name: "overlap",
                      label: "The others expire after",
                      cli: "--overlap",
                      placeholder: "1d",
                    } as const,
                  ]
                : []),
            ]}
            onSubmit={async (body) => {
              const outcome = await act(SecretMade, making === "add" ? `${path}/secrets` : `${path}/secrets/replace`, {
                method: "POST",
                body,
              });
              if (!outcome.done) return outcome.refusal;
              setMaking(null);
              onSecret(outcome.value.secret);
              return null;
            }}
          />
        </Window>
      )}
    </Section>
  );
}

function Identity({ issuer, client }: { issuer: string; client: Client }) {
  const { may } = useSession();
  const act = useAct();
  if (client.openid_scopes.length === 0) return null;
  const answer = (granted: boolean) =>
    act(
      ClientChanged,
      ofIssuer(issuer, "clients", client.name, "openid", granted ? "grant" : "withdraw"),
      { method: "POST" },
      () => ({
        now: granted
          ? `What ${client.name} may know of people is approved for everyone.`
          : `Each person is asked again what ${client.name} may know.`,
      }),
    );
  return (
    <p className="mt-3 flex flex-wrap items-center gap-3 border-t border-hair pt-3">
      {client.openid_granted ? (
        <Told verdict="admitted">What it may know of people is approved for everyone</Told>
      ) : (
        <Told verdict="waiting">Each person is asked what it may know of them</Told>
      )}
      {may.runPeople && (
        <Button onClick={() => void answer(!client.openid_granted)}>
          {client.openid_granted ? "Withdraw" : "Approve for everyone"}
        </Button>
      )}
    </p>
  );
}

/** The plans that it is subscribed to. */
function Plans({ issuer, client }: { issuer: string; client: string }) {
  const list = useThing(page(Subscription), ofIssuer(issuer, "subscriptions") + query({ client }));
  return (
    <Section title="Subscriptions">
      <Show of={list} what="its subscriptions">
        {(it) =>
          it.items.length === 0 ? (
            <p className="text-faint">
              To no plan. <Link to={place(issuer, "gateway", "plans")}>Choose one</Link>
            </p>
          ) : (
            <ul>
              {it.items.map((one) => (
                <li key={one.id} className="border-b border-hair py-1.5 last:border-b-0">
                  <Link to={place(issuer, "gateway", "plans", one.plan)}>{one.plan}</Link>{" "}
                  <Told verdict={verdictOf(one.status)}>{one.status}</Told>
                  <p className="text-[0.8125rem] text-faint">{one.sentence}</p>
                </li>
              ))}
            </ul>
          )
        }
      </Show>
    </Section>
  );
}

function Minted({ path, client }: { path: string; client: Client }) {
  const [open, setOpen] = useState(false);
  return (
    <Section
      title="What its tokens say"
      act={
        <Button onClick={() => setOpen((before) => !before)} aria-expanded={open}>
          {open ? "Fold" : "Show"}
        </Button>
      }
    >
      {open ? (
        <MintedShown path={path} client={client} />
      ) : (
        <p className="text-faint">As they would be made now, with the reason for each lifetime and format.</p>
      )}
    </Section>
  );
}

function MintedShown({ path, client }: { path: string; client: Client }) {
  const minted = useThing(v.array(MintingPreview), path + "/minting");
  return (
    <Show of={minted} what="its tokens">
      {(all) =>
        all.length === 0 ? (
          <p className="text-faint">On its own it would get none.</p>
        ) : (
          <>
            {all.map((it) => (
              <div key={it.api} className="mb-3">
                <h3>
                  {it.api}: {it.format}, {it.lifetime}
                </h3>
                {it.fault && <p className="text-rust">{it.fault}</p>}
                <Sentences of={it.why} />
                {it.claims && (
                  <pre tabIndex={0} className="mt-1 overflow-x-auto rounded bg-shade px-3 py-2">
                    {JSON.stringify(it.claims, null, 2)}
                  </pre>
                )}
              </div>
            ))}
            <Line>{`admit client minting ${shell(client.name)}`}</Line>
          </>
        )
      }
    </Show>
  );
}

/** What its developer needs, by its kind. */
function Connection({ path, name }: { path: string; name: string }) {
  const connecting = useThing(Connecting, `${path}/connecting`);
  return (
    <Section title="Connection details">
      <Show of={connecting} what="the connection details">
        {(it) => {
          const rows: [string, string | null][] = [
            ["Client id", it.client_id],
            ["Issuer", it.issuer],
            ["Authorization endpoint", it.authorization_endpoint],
            ["Token endpoint", it.token_endpoint],
            ["Device authorization endpoint", it.device_authorization_endpoint],
            ["Redirect URI", it.redirect_uri],
            ["PKCE", it.pkce],
            ["Audience", it.audiences.join("\n") || null],
            ["Scope", it.scope || null],
          ];
          return (
            <>
              <Facts
                of={rows.flatMap(([label, text]) =>
                  text
                    ? [
                        [label, <Paste key={label} text={text} what={`the ${label.toLowerCase()}`} />] as [
                          string,
                          React.ReactNode,
                        ],
                      ]
                    : [],
                )}
              />
              <Code name=".env" text={it.env} />
              {Object.entries(it.code).map(([file, text]) => (
                <Code key={file} name={file} text={text} />
              ))}
              <div className="mt-3">
                <Line>{`admit client connecting ${shell(name)}`}</Line>
              </div>
            </>
          );
        }}
      </Show>
    </Section>
  );
}
