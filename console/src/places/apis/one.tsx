import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import * as v from "valibot";
import { useAct, usePatch } from "../../api/changing";
import { type Refused, ofIssuer } from "../../api/http";
import { usePreview, useThing } from "../../api/reading";
import {
  Api,
  ApiSecretMade,
  Minting,
  Role,
  Route,
  Scope,
  ScopePreview,
  SecretOnce,
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
import { Form, type Values } from "../../parts/form";
import { Told, verdictOf } from "../../parts/mark";
import { Owners } from "../../parts/owners";
import { Piece } from "../../parts/piece";
import { SecretShown } from "../../parts/secret";
import { Time } from "../../parts/time";
import { InCatalogue } from "./catalogue";
import { OpenApi } from "./openapi";
import { joined } from "../../parts/words";
import {
  API_FIELDS,
  MINTING_FIELDS,
  NO_STANDING,
  SCOPE_FIELDS,
  apiValues,
  mintingBody,
  mintingValues,
  scopeBody,
  scopeValues,
} from "./fields";

const ApiChanged = changed(Api);
const MintingChanged = changed(Minting);
const ScopeChanged = changed(Scope);
const RoleChanged = changed(Role);
const Checking = v.object({
  issuer: v.string(),
  jwks_uri: v.string(),
  audience: v.string(),
  env: v.string(),
  code: v.record(v.string(), v.string()),
  notes: v.array(v.string()),
});

export default function ApiPage() {
  const issuer = useIssuer();
  const { api: name = "" } = useParams();
  const path = ofIssuer(issuer, "apis", name);
  const { may, who } = useSession();
  const navigate = useNavigate();
  const api = useThing(Api, path);
  const scopes = useThing(page(Scope), path + "/scopes?limit=200");
  const roles = useThing(page(Role), path + "/roles?limit=200");
  const minting = useThing(Minting, path + "/minting");
  const routes = useThing(page(Route), ofIssuer(issuer, "routes") + "?limit=200");
  const theirs = routes.state === "ready" ? routes.value.items.filter((it) => it.api === name) : [];
  const scopeList = scopes.state === "ready" ? scopes.value.items : [];
  return (
    <Show of={api} what="the API">
      {(it, etag) => (
        <>
          <Head
            title={it.title}
            what={<span className="mono">{it.name}</span>}
            next={
              <>
                {scopes.state === "ready" &&
                  scopeList.length > 0 &&
                  theirs.length === 0 &&
                  routes.state === "ready" &&
                  may.change && (
                    <ButtonLink kind="act" to={place(issuer, "gateway", "new") + `?api=${it.name}`}>
                      Put a route in front
                    </ButtonLink>
                  )}
                {may.change && (
                  <Removal
                    label="Remove"
                    title={`Remove ${it.name}`}
                    explain={
                      "Its scopes, roles and routes go with it; tokens for it are " +
                      "refused from the next request on."
                    }
                    path={path}
                    said={`${it.name} is removed.`}
                    onDone={() => void navigate(place(issuer, "apis"))}
                  />
                )}
              </>
            }
          />
          <WithRail
            rail={
              <>
                <Sentences of={[...it.sentences, ...theirs.flatMap((route) => route.sentences.slice(0, 1))]} />
                {theirs.length === 0 && routes.state === "ready" && (
                  <p className="mt-2 text-ochre-ink">
                    No route leads to it yet: through the gateway nobody can call it.
                  </p>
                )}
                <div className="mt-3">
                  <Line>{`admit api show ${shell(it.name)}`}</Line>
                </div>
                <Piece issuer={issuer} of="api" name={it.name} />
              </>
            }
          >
            <Editable
              title="Details"
              path={path}
              shape={Api}
              answer={ApiChanged}
              fields={API_FIELDS}
              valuesOf={apiValues}
              thing={it}
              etag={etag}
              may={may.change}
              said={`${it.name} is changed.`}
              cli={`admit api change ${shell(it.name)}`}
            />
            <Show of={scopes} what="its scopes">
              {(all) => <Scopes issuer={issuer} api={it} all={all.items} may={may.change} />}
            </Show>
            <Show of={roles} what="its roles">
              {(all) => <Roles issuer={issuer} api={it} all={all.items} scopes={scopeList} may={may.approve} />}
            </Show>
            <Show of={minting} what="how its tokens are made">
              {(made, tag) => <MintingSection path={path} api={it} minting={made} etag={tag} may={may.change} />}
            </Show>
            <SecretsOfApi path={path} api={it} may={may.change} />
            <OpenApi issuer={issuer} api={it} may={may.change && !!who.admin_role} />
            <InCatalogue issuer={issuer} api={it} may={may.change} />
            <CheckingSection path={path} api={it} />
            {who.admin_role && <Owners issuer={issuer} kind="api" name={it.name} owners={it.owners} />}
          </WithRail>
        </>
      )}
    </Show>
  );
}

function Scopes({ issuer, api, all, may }: { issuer: string; api: Api; all: Scope[]; may: boolean }) {
  const [adding, setAdding] = useState(false);
  const [editing, setEditing] = useState<Scope | null>(null);
  const act = useAct();
  const base = ofIssuer(issuer, "apis", api.name, "scopes");
  return (
    <Section title="Scopes" act={may && !adding && <Button onClick={() => setAdding(true)}>Add a scope</Button>}>
      {adding && (
        <div className="mb-4 rounded border border-hair bg-raised p-4">
          <Form
            fields={[
              {
                kind: "text",
                name: "name",
                label: "Name",
                mono: true,
                wide: true,
                placeholder: `${api.name}.read`,
                help: "API, then a verb: name what it permits.",
              },
              ...SCOPE_FIELDS,
            ]}
            start={{
              name: "",
              effect: "reads",
              reach: "everyone",
              for: "clients",
              approver: "",
              consequence: "",
              status: "in-use",
              closes_on: "",
              by_role: false,
              listed: true,
              ...NO_STANDING,
            }}
            submit="Add the scope"
            onCancel={() => setAdding(false)}
            children={(values) => <Consequence base={base} values={values} />}
            cli={(values) => `admit scope add ${shell(api.name)} ${shell(String(values.name || "NAME"))}`}
            onSubmit={async (body, values) => {
              const outcome = await act(ScopeChanged, base, { method: "POST", body: scopeBody(body) }, () => ({
                now: `The scope ${String(values.name)} is there.`,
              }));
              if (outcome.done) setAdding(false);
              return outcome.done ? null : outcome.refusal;
            }}
          />
        </div>
      )}
      {all.length === 0 && !adding && (
        <Empty
          title="No scope yet"
          act={
            may && (
              <Button kind="act" onClick={() => setAdding(true)}>
                Add the first scope
              </Button>
            )
          }
        >
          Say first what it does and whom it reaches; Admit proposes the consequence and who approves.
        </Empty>
      )}
      <ul className="flex flex-col">
        {all.map((it) => (
          <li key={it.id} className="border-b border-hair py-2.5 first:pt-0 last:border-b-0">
            <div className="flex flex-wrap items-start justify-between gap-2">
              <div className="min-w-0 flex-1 basis-72">
                <span className="mono font-semibold">{it.name}</span>{" "}
                {it.status !== "in-use" && <Told verdict={verdictOf(it.status)}>{it.status}</Told>}
                <p>{it.consequence_reads.administrator}</p>
                {it.for !== "clients" && it.consequence_reads.person !== it.consequence_reads.administrator && (
                  <p className="text-faint">To the person: {it.consequence_reads.person}</p>
                )}
                <p className="mt-1 flex flex-wrap gap-1.5">
                  <Tag>{it.effect === "both" ? "reads and changes" : it.effect}</Tag>
                  <Tag>{it.reach === "own" ? "own things" : "everyone's"}</Tag>
                  <Tag>{it.for === "both" ? "people and clients" : `for ${it.for}`}</Tag>
                  <Tag>{it.approver === "person" ? "the person approves" : "an administrator approves"}</Tag>
                  {it.by_role && <Tag>by role</Tag>}
                  {api.default_scopes.includes(it.name) && <Tag>by default</Tag>}
                  {!it.listed && <Tag>not listed</Tag>}
                </p>
                {it.standing_approval && (
                  <p className="text-ochre-ink">Approved ahead for {it.standing_approval.sentence}.</p>
                )}
                {it.closes_on && (
                  <p className="text-ochre-ink">
                    Closes <Time at={it.closes_on} />
                  </p>
                )}
              </div>
              {may && (
                <span className="flex gap-2">
                  <Button onClick={() => setEditing(it)} aria-label={`Change ${it.name}`}>
                    Change
                  </Button>
                  <Removal
                    label="Remove"
                    title={`Remove ${it.name}`}
                    explain="Clients and people that hold it lose it with the next request."
                    path={`${base}/${it.id}`}
                    said={`${it.name} is removed.`}
                  />
                </span>
              )}
            </div>
          </li>
        ))}
      </ul>
      {editing && <ScopeWindow base={base} api={api} scope={editing} onClose={() => setEditing(null)} />}
    </Section>
  );
}

/** While one types: what both readers of the consequence will find. */
function Consequence({ base, values }: { base: string; values: Values }) {
  const { name, effect, reach, for: whom, consequence } = values;
  const meant = usePreview(
    ScopePreview,
    `${base}/preview`,
    name ? { name, effect, reach, for: whom, consequence } : null,
  );
  if (!meant) return null;
  const reads = meant.consequence_reads;
  return (
    <section aria-label="What this means" className="mt-4 rounded bg-shade px-3 py-2">
      <h2 className="mb-1">What this means</h2>
      <Facts
        of={[
          ...(values.for === "clients" ? [] : [["The person reads", reads.person] as [string, string]]),
          ["An administrator reads", reads.administrator],
        ]}
      />
    </section>
  );
}

function ScopeWindow({ base, api, scope, onClose }: { base: string; api: Api; scope: Scope; onClose: () => void }) {
  const path = `${base}/${scope.id}`;
  const patch = usePatch(Scope, ScopeChanged, path);
  const start = scopeValues(scope);
  return (
    <Window
      open
      wide
      onClose={onClose}
      title={`Change ${scope.name}`}
      what="What loosens counts for tokens from now on; what tightens counts at once."
    >
      <Form
        fields={SCOPE_FIELDS}
        start={start}
        before={start}
        children={(values) => <Consequence base={base} values={{ ...values, name: scope.name }} />}
        submit="Save"
        onCancel={onClose}
        cli={() => `admit scope change ${shell(api.name)} ${shell(scope.name)}`}
        onSubmit={async (body): Promise<Refused | null> => {
          const outcome = await patch(scopeBody(body), `"${scope.version}"`, `${scope.name} is changed.`);
          if (outcome.done) onClose();
          return outcome.done ? null : "refusal" in outcome ? outcome.refusal : (onClose(), null);
        }}
      />
    </Window>
  );
}

function Roles({
  issuer,
  api,
  all,
  scopes,
  may,
}: {
  issuer: string;
  api: Api;
  all: Role[];
  scopes: Scope[];
  may: boolean;
}) {
  const [editing, setEditing] = useState<Role | "new" | null>(null);
  const act = useAct();
  const base = ofIssuer(issuer, "apis", api.name, "roles");
  const fields = [
    { kind: "text", name: "title", label: "Title", cli: "--title" } as const,
    {
      kind: "several",
      name: "scopes",
      label: "Its scopes",
      cli: "--scope",
      choices: scopes.map((it): [string, string] => [it.name, it.consequence_reads.administrator]),
    } as const,
    {
      kind: "flag",
      name: "second_factor",
      label: "Second factor",
      words: "People who have it sign in with a second factor.",
      cli: "--second-factor",
    } as const,
  ];
  return (
    <Section title="Roles" act={may && <Button onClick={() => setEditing("new")}>Add a role</Button>}>
      {all.length === 0 && (
        <p className="text-faint">None. A role is a named set of scopes, given to people, or requested by clients.</p>
      )}
      <ul>
        {all.map((it) => (
          <li
            key={it.id}
            className="flex flex-wrap items-start justify-between gap-2 border-b border-hair py-2 last:border-b-0"
          >
            <div>
              <span className="mono font-semibold">{it.name}</span> {it.title}
              <p className="mono text-[0.8125rem] text-faint">{it.scopes.join(" ") || "no scope"}</p>
              {it.second_factor && <Tag>second factor</Tag>}
            </div>
            {may && (
              <span className="flex gap-2">
                <Button onClick={() => setEditing(it)} aria-label={`Change ${it.name}`}>
                  Change
                </Button>
                <Removal
                  label="Remove"
                  title={`Remove the role ${it.name}`}
                  explain="People and clients that have it lose its scopes with the next request."
                  path={`${base}/${it.name}`}
                  said={`The role ${it.name} is removed.`}
                />
              </span>
            )}
          </li>
        ))}
      </ul>
      {editing && (
        <Window
          open
          wide
          onClose={() => setEditing(null)}
          title={editing === "new" ? "Add a role" : `Change ${editing.name}`}
        >
          <Form
            fields={
              editing === "new"
                ? [{ kind: "text", name: "name", label: "Name", mono: true, placeholder: "harbour-master" }, ...fields]
                : fields
            }
            start={
              editing === "new"
                ? { name: "", title: "", scopes: [], second_factor: false }
                : { title: editing.title, scopes: editing.scopes, second_factor: editing.second_factor }
            }
            before={
              editing === "new"
                ? null
                : { title: editing.title, scopes: editing.scopes, second_factor: editing.second_factor }
            }
            submit="Save"
            onCancel={() => setEditing(null)}
            cli={(values) =>
              editing === "new"
                ? `admit role add ${shell(api.name)} ${shell(String(values.name || "NAME"))}`
                : `admit role change ${shell(api.name)} ${shell(editing.name)}`
            }
            onSubmit={async (body, values) => {
              const outcome =
                editing === "new"
                  ? await act(RoleChanged, base, { method: "POST", body }, () => ({
                      now: `The role ${String(values.name)} is there.`,
                    }))
                  : await act(
                      RoleChanged,
                      `${base}/${editing.name}`,
                      { method: "PATCH", body, ifMatch: `"${editing.version}"` },
                      () => ({ now: `The role ${editing.name} is changed.` }),
                    );
              if (outcome.done) setEditing(null);
              return outcome.done ? null : outcome.refusal;
            }}
          />
        </Window>
      )}
    </Section>
  );
}

function MintingSection({
  path,
  api,
  minting,
  etag,
  may,
}: {
  path: string;
  api: Api;
  minting: Minting;
  etag: string | null;
  may: boolean;
}) {
  const [exempting, setExempting] = useState(false);
  const act = useAct();
  const patch = usePatch(Minting, MintingChanged, path + "/minting");
  const start = mintingValues(minting);
  const [editing, setEditing] = useState(false);
  const save = async (exceptions: Minting["exceptions"], said: string) => {
    const outcome = await act(
      MintingChanged,
      path + "/minting",
      { method: "PATCH", body: { exceptions }, ifMatch: etag },
      () => ({ now: said }),
    );
    return outcome.done ? null : outcome.refusal;
  };
  return (
    <Section
      title="How its tokens are made"
      act={
        may &&
        !editing && (
          <Button onClick={() => setEditing(true)} aria-label="Change how its tokens are made">
            Change
          </Button>
        )
      }
    >
      {editing ? (
        <Form
          fields={MINTING_FIELDS}
          start={start}
          before={start}
          submit="Save"
          onCancel={() => setEditing(false)}
          cli={() => `admit api minting ${shell(api.name)}`}
          onSubmit={async (body) => {
            const outcome = await patch(mintingBody(body), etag, "Tokens are made so from now on.");
            if (outcome.done) setEditing(false);
            return outcome.done ? null : "refusal" in outcome ? outcome.refusal : (setEditing(false), null);
          }}
        />
      ) : (
        <Facts
          of={[
            ["Lifetime", minting.lifetime],
            ["Format", minting.format === "jwt" ? "JWT" : minting.format],
            ["Refresh, unused for", minting.refresh_idle_timeout ?? "as usual"],
            ["Refresh, at longest", minting.max_refresh_age ?? "as usual"],
            [
              "Extra claims",
              minting.claims.length === 0 ? (
                <span className="text-faint">none</span>
              ) : (
                <ul>
                  {minting.claims.map((it) => (
                    <li key={it.name} className="mono">
                      {it.name} = {it.expression}
                    </li>
                  ))}
                </ul>
              ),
            ],
          ]}
        />
      )}
      <div className="mt-4 flex items-center justify-between">
        <h3>Exceptions</h3>
        {may && <Button onClick={() => setExempting(true)}>Add an exception</Button>}
      </div>
      {minting.exceptions.length === 0 && (
        <p className="mt-1 text-faint">
          None. An exception can shorten, hide and leave out for some clients, tags or grant types; of all that apply
          the strictest counts.
        </p>
      )}
      <ul>
        {minting.exceptions.map((it) => (
          <li
            key={it.name}
            className="flex flex-wrap items-start justify-between gap-2 border-b border-hair py-2 last:border-b-0"
          >
            <div>
              <span className="font-semibold">{it.name}</span>: for{" "}
              {joined(
                [...(it.clients ?? []), ...(it.tags ?? []).map((tag) => `the tag ${tag}`), ...(it.grant_types ?? [])],
                "or",
              ) || "everyone"}
              {it.lifetime && <>, at most {it.lifetime}</>}
              {it.format && <>, {it.format}</>}
              {(it.without ?? []).length > 0 && <>, without {joined(it.without ?? [])}</>}
            </div>
            {may && (
              <Button
                kind="danger"
                onClick={() =>
                  void save(
                    minting.exceptions.filter((one) => one.name !== it.name),
                    `The exception ${it.name} is gone.`,
                  )
                }
              >
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      {exempting && (
        <Window
          open
          wide
          onClose={() => setExempting(false)}
          title="Add an exception"
          what="It tightens for those that it names; it cannot loosen."
        >
          <Form
            start={{
              name: "",
              clients: [],
              tags: [],
              grant_types: [],
              lifetime: "",
              format: "",
              refresh_idle_timeout: "",
              max_refresh_age: "",
              without: [],
            }}
            submit="Add it"
            onCancel={() => setExempting(false)}
            fields={[
              { kind: "text", name: "name", label: "Name" },
              { kind: "text", name: "lifetime", label: "Lifetime, at most", placeholder: "5m" },
              { kind: "lines", name: "clients", label: "Clients, one a line" },
              { kind: "lines", name: "tags", label: "Tags" },
              { kind: "lines", name: "grant_types", label: "Grant types" },
              {
                kind: "choice",
                name: "format",
                label: "Format",
                choices: [
                  ["", "as it is"],
                  ["jwt", "JWT"],
                  ["opaque", "opaque"],
                ],
              },
              { kind: "text", name: "refresh_idle_timeout", label: "Refresh, unused for at most" },
              { kind: "text", name: "max_refresh_age", label: "Refresh, at longest" },
              { kind: "lines", name: "without", label: "Claims left out" },
            ]}
            onSubmit={async (body) => {
              const read = v.safeParse(v.looseObject({ name: v.optional(v.string(), "") }), body);
              const one = {
                clients: [],
                tags: [],
                grant_types: [],
                without: [],
                lifetime: null,
                format: null,
                refresh_idle_timeout: null,
                max_refresh_age: null,
                ...body,
                name: read.success ? read.output.name : "",
              };
              const refused = await save([...minting.exceptions, one], `The exception ${one.name} holds.`);
              if (!refused) setExempting(false);
              return refused;
            }}
          />
        </Window>
      )}
    </Section>
  );
}

function SecretsOfApi({ path, api, may }: { path: string; api: Api; may: boolean }) {
  const act = useAct();
  const [made, setMade] = useState<v.InferOutput<typeof SecretOnce> | null>(null);
  const [adding, setAdding] = useState(false);
  return (
    <Section title="Its own credential" act={may && <Button onClick={() => setAdding(true)}>Make a secret</Button>}>
      <p className="text-faint">
        With it the API requests introspection of tokens for itself; its user name is <code>{api.id}</code>.
      </p>
      <ul>
        {api.secrets.map((it) => (
          <li
            key={it.id}
            className="flex flex-wrap items-center justify-between gap-2 border-b border-hair py-2 last:border-b-0"
          >
            <span>
              {it.label}{" "}
              <span className="text-faint">
                expires <Time at={it.expires_at} />
              </span>
            </span>
            {may && (
              <Removal
                label="Remove"
                title={`Remove the secret ${it.label ?? ""}`}
                explain="The API can ask with it no longer."
                path={`${path}/secrets/${it.id}`}
                said="The secret is removed."
              />
            )}
          </li>
        ))}
      </ul>
      {adding && (
        <Window open onClose={() => setAdding(false)} title="Make a secret">
          <Form
            fields={[
              { kind: "text", name: "label", label: "Label", cli: "--label" },
              { kind: "text", name: "lifetime", label: "Lifetime", cli: "--lifetime", placeholder: "90d" },
            ]}
            start={{ label: "", lifetime: "" }}
            submit="Make it"
            cli={() => `admit api secret add ${shell(api.name)}`}
            onSubmit={async (body) => {
              const outcome = await act(ApiSecretMade, path + "/secrets", { method: "POST", body });
              if (!outcome.done) return outcome.refusal;
              setMade(outcome.value.secret);
              setAdding(false);
              return null;
            }}
          />
        </Window>
      )}
      {made && <SecretShown of={made} onClose={() => setMade(null)} />}
    </Section>
  );
}

function CheckingSection({ path, api }: { path: string; api: Api }) {
  const [open, setOpen] = useState(false);
  return (
    <Section
      title="When it checks tokens itself"
      act={
        <Button onClick={() => setOpen((before) => !before)} aria-expanded={open}>
          {open ? "Fold" : "Show values and code"}
        </Button>
      }
    >
      {open ? (
        <CheckingShown path={path} api={api} />
      ) : (
        <p className="text-faint">Issuer, key set, audience and scopes to copy, with short programs that use them.</p>
      )}
    </Section>
  );
}

function CheckingShown({ path, api }: { path: string; api: Api }) {
  const checking = useThing(Checking, path + "/checking");
  return (
    <Show of={checking} what="what it needs">
      {(it) => (
        <>
          <Facts
            of={[
              ["Issuer", <Paste key="i" text={it.issuer} what="the issuer" />],
              ["Key set", <Paste key="k" text={it.jwks_uri} what="the key set" />],
              ["Audience", <Paste key="a" text={it.audience} what="the audience" />],
            ]}
          />
          <Sentences of={it.notes} />
          <Code name=".env" text={it.env} />
          {Object.entries(it.code).map(([name, text]) => (
            <Code key={name} name={name} text={text} />
          ))}
          <div className="mt-3">
            <Line>{`admit api checking ${shell(api.name)} --env`}</Line>
          </div>
        </>
      )}
    </Show>
  );
}
