import type { ColumnDef } from "@tanstack/react-table";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { type Row, useRows, useThing } from "../../api/reading";
import { Steps as StepsShape, TrustedIssuer, changed } from "../../api/answers";
import { place, useIssuer, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Empty, Line, Refusal, Section, Sentences, Show, Waiting, WithRail, shell } from "../../parts/basics";
import { Removal, Window } from "../../parts/dialogs";
import { Editable } from "../../parts/editable";
import { type Field, Form, type Values } from "../../parts/form";
import { Told } from "../../parts/mark";
import { Steps } from "../../parts/steps";
import { Table } from "../../parts/table";
import { Time } from "../../parts/time";

const Changed = changed(TrustedIssuer);
const FIELDS: Field[] = [
  { kind: "text", name: "url", label: "Its URL, the iss of its tokens", cli: "--url", mono: true, wide: true },
  { kind: "text", name: "metadata", label: "Where its metadata is", cli: "--metadata", mono: true, wide: true },
  { kind: "text", name: "jwks_uri", label: "Or where its key set is", cli: "--jwks-uri", mono: true, wide: true },
  { kind: "lines", name: "algorithms", label: "Algorithms", cli: "--algorithm", placeholder: "ES256" },
  { kind: "lines", name: "types", label: "typ of its access tokens", cli: "--type", placeholder: "at+jwt" },
  { kind: "text", name: "audience", label: "Audience expected", cli: "--audience", mono: true },
  {
    kind: "text",
    name: "scope_claim",
    label: "Where the scope stands",
    cli: "--scope-claim",
    mono: true,
    placeholder: "scope",
  },
  {
    kind: "text",
    name: "roles_claim",
    label: "Where the roles stand",
    cli: "--roles-claim",
    mono: true,
    placeholder: "/harbour/roles",
  },
  {
    kind: "text",
    name: "person_claim",
    label: "Where the person stands",
    cli: "--person-claim",
    mono: true,
    placeholder: "sub",
  },
  {
    kind: "text",
    name: "client_claim",
    label: "Where the client stands",
    cli: "--client-claim",
    mono: true,
    placeholder: "client_id",
  },
  {
    kind: "pairs",
    name: "scopes",
    label: "Their scopes, and ours that they count as",
    cli: "--scope",
    placeholder: "sea.heights = tides.read",
  },
  { kind: "pairs", name: "clients", label: "Their clients, and ours that they count as", cli: "--client" },
];
function valuesOf(it: TrustedIssuer): Values {
  return {
    url: it.url,
    metadata: it.metadata ?? "",
    jwks_uri: it.jwks_uri ?? "",
    algorithms: it.algorithms,
    types: it.types,
    audience: it.audience ?? "",
    scope_claim: it.scope_claim ?? "",
    roles_claim: it.roles_claim ?? "",
    person_claim: it.person_claim ?? "",
    client_claim: it.client_claim ?? "",
    scopes: it.scopes,
    clients: it.clients,
  };
}

export function TrustedIssuers() {
  const list = useRows(TrustedIssuer, "/trusted-issuers");
  const target = useTarget();
  const { may } = useSession();
  const act = useAct();
  const navigate = useNavigate();
  const [adding, setAdding] = useState(false);
  const columns: ColumnDef<Row<TrustedIssuer>>[] = [
    {
      id: "name",
      header: "Issuer elsewhere",
      accessorFn: (row) => row.value.name,
      cell: ({ row: { original } }) => (
        <Link to={place(original.issuer, "gateway", "trusted-issuers", original.value.name)}>
          {original.value.name}
        </Link>
      ),
    },
    {
      id: "url",
      header: "URL",
      accessorFn: (row) => row.value.url,
      cell: (it) => <span className="mono break-all">{String(it.getValue())}</span>,
    },
    {
      id: "keys",
      header: "Keys",
      accessorFn: (row) => row.value.kids.length,
      cell: ({
        row: {
          original: { value },
        },
      }) => (value.fault ? <Told verdict="refused">{value.fault}</Told> : <span>{value.kids.length} known</span>),
    },
    {
      id: "found",
      header: "Found",
      accessorFn: (row) => row.value.found_at ?? "",
      cell: ({ row: { original } }) => <Time at={original.value.found_at} />,
      meta: { aside: true },
    },
  ];
  return (
    <>
      {may.runPeople && (
        <p className="mb-3">
          <Button onClick={() => setAdding(true)}>Add a trusted issuer</Button>
        </p>
      )}
      {list.state === "loading" && <Waiting what="the trusted issuers" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty title="No issuer elsewhere is trusted">
          A route may take tokens of another organisation's issuer; here is said where its keys are and how its claims
          read.
        </Empty>
      )}
      {list.rows.length > 0 && (
        <Table label="Trusted issuers" rows={list.rows} columns={columns} rowId={(row) => row.value.id} />
      )}
      <div className="mt-5">
        <Line>admit trusted-issuer list</Line>
      </div>
      {adding && (
        <Window
          open
          wide
          onClose={() => setAdding(false)}
          title="Add a trusted issuer"
          what="Its tokens pass only at routes that name it."
        >
          <Form
            start={{
              name: "",
              url: "",
              metadata: "",
              jwks_uri: "",
              jwks: "",
              algorithms: [],
              types: [],
              audience: "",
              scope_claim: "",
              roles_claim: "",
              person_claim: "",
              client_claim: "",
              scopes: {},
              clients: {},
            }}
            submit="Add it"
            onCancel={() => setAdding(false)}
            fields={[
              { kind: "text", name: "name", label: "Name", mono: true, placeholder: "coastguard" },
              ...FIELDS,
              { kind: "area", name: "jwks", label: "Or its key set, pasted", mono: true, rows: 3 },
            ]}
            cli={(values) => `admit trusted-issuer add ${shell(String(values.name || "NAME"))}`}
            onSubmit={async (body) => {
              const outcome = await act(
                Changed,
                ofIssuer(target, "trusted-issuers"),
                { method: "POST", body },
                (made) => ({ now: `${made.now.name} is trusted.` }),
              );
              if (!outcome.done) return outcome.refusal;
              void navigate(place(target, "gateway", "trusted-issuers", outcome.value.now.name));
              return null;
            }}
          />
        </Window>
      )}
    </>
  );
}

export function TrustedIssuerPage() {
  const issuer = useIssuer();
  const { name = "" } = useParams();
  const path = ofIssuer(issuer, "trusted-issuers", name);
  const { may } = useSession();
  const act = useAct();
  const navigate = useNavigate();
  const trusted = useThing(TrustedIssuer, path);
  const [steps, setSteps] = useState<StepsShape | null>(null);
  const [refused, setRefused] = useState<React.ComponentProps<typeof Refusal>["of"] | null>(null);
  const look = async () => {
    const outcome = await act(StepsShape, `${path}/check`, { method: "POST", body: {} });
    setSteps(outcome.done ? outcome.value : null);
    setRefused(outcome.done ? null : outcome.refusal);
  };
  return (
    <Show of={trusted} what="the trusted issuer">
      {(it, etag) => (
        <WithRail
          rail={
            <>
              <Sentences
                of={[
                  `Tokens of ${it.url} pass at routes that name ${it.name}.`,
                  it.pasted
                    ? "Its keys were pasted; new ones have to be pasted as well."
                    : "Its keys are looked for every ten minutes, and when a token names another.",
                  ...Object.entries(it.scopes).map(([theirs, ours]) => `Their ${theirs} counts as ${ours}.`),
                  ...Object.entries(it.clients).map(([theirs, ours]) => `Their client ${theirs} counts as ${ours}.`),
                ]}
              />
              <div className="mt-3">
                <Line>{`admit trusted-issuer show ${shell(it.name)}`}</Line>
              </div>
            </>
          }
        >
          <Editable
            title={it.name}
            path={path}
            shape={TrustedIssuer}
            answer={Changed}
            fields={FIELDS}
            valuesOf={valuesOf}
            thing={it}
            etag={etag}
            may={may.runPeople}
            said={`${it.name} is changed.`}
            cli={`admit trusted-issuer change ${shell(it.name)}`}
            facts={[
              ["Keys known", it.kids.length === 0 ? "none" : it.kids.join(", ")],
              ["Found", <Time key="t" at={it.found_at} />],
            ]}
          />
          <Section title="Its keys, now" act={may.change && <Button onClick={() => void look()}>Look for them</Button>}>
            {it.fault && <Told verdict="refused">{it.fault}</Told>}
            {steps ? <Steps of={steps} /> : <p className="text-faint">Asks the issuer, and shows each step.</p>}
            {refused && <Refusal of={refused} />}
          </Section>
          {may.runPeople && (
            <Section title="No longer">
              <Removal
                label="Stop trusting it"
                title={`Stop trusting ${it.name}`}
                explain="Its tokens are refused from the next request on."
                path={path}
                said={`${it.name} is trusted no longer.`}
                onDone={() => void navigate(place(issuer, "gateway", "trusted-issuers"))}
              />
            </Section>
          )}
        </WithRail>
      )}
    </Show>
  );
}
