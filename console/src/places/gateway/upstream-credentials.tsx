import type { ColumnDef } from "@tanstack/react-table";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer, query } from "../../api/http";
import { type Row, useRows, useThing } from "../../api/reading";
import { Steps as StepsShape, UpstreamCredential, changed } from "../../api/answers";
import { place, useIssuer, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Empty, Line, Refusal, Section, Sentences, Show, Waiting, WithRail, shell } from "../../parts/basics";
import { Removal, Window } from "../../parts/dialogs";
import { Editable } from "../../parts/editable";
import { type Field, Form, type Values } from "../../parts/form";
import { Steps } from "../../parts/steps";
import { Table } from "../../parts/table";
import { joined } from "../../parts/words";

const Changed = changed(UpstreamCredential);
const FIELDS: Field[] = [
  {
    kind: "text",
    name: "upstream",
    label: "For this upstream, and what lies below it",
    cli: "--upstream",
    mono: true,
    wide: true,
  },
  {
    kind: "text",
    name: "header",
    label: "The name of a header",
    cli: "--header",
    mono: true,
    when: (values) => values.form === "header",
  },
  {
    kind: "text",
    name: "user",
    label: "The name to log in with",
    cli: "--user",
    mono: true,
    when: (values) => values.form === "login",
  },
  {
    kind: "text",
    name: "client_id",
    label: "The client to fetch a token as",
    cli: "--client-id",
    mono: true,
    when: (values) => values.form === "token",
  },
  {
    kind: "text",
    name: "issuer",
    label: "Its issuer",
    cli: "--issuer-url",
    mono: true,
    when: (values) => values.form === "token",
    help: "Its token endpoint is found by its metadata.",
  },
  {
    kind: "text",
    name: "token_endpoint",
    label: "Or its token endpoint",
    cli: "--token-endpoint",
    mono: true,
    when: (values) => values.form === "token",
  },
  {
    kind: "choice",
    name: "auth",
    label: "It proves itself by",
    cli: "--auth",
    choices: [
      ["", "the header, as usual"],
      ["header", "the header"],
      ["body", "the form"],
    ],
    when: (values) => values.form === "token",
  },
  {
    kind: "text",
    name: "scope",
    label: "Scope",
    cli: "--scope",
    mono: true,
    when: (values) => values.form === "token",
  },
  {
    kind: "pairs",
    name: "parameters",
    label: "Further parameters",
    cli: "--parameter",
    when: (values) => values.form === "token",
  },
];
function valuesOf(it: UpstreamCredential): Values {
  return {
    form: it.form,
    upstream: it.upstream,
    header: it.header ?? "",
    user: it.user ?? "",
    client_id: it.client_id ?? "",
    issuer: it.issuer ?? "",
    token_endpoint: it.token_endpoint ?? "",
    auth: it.auth ?? "",
    scope: it.scope ?? "",
    parameters: it.parameters,
  };
}

export function UpstreamCredentials() {
  const list = useRows(UpstreamCredential, "/upstream-credentials");
  const target = useTarget();
  const { may } = useSession();
  const act = useAct();
  const navigate = useNavigate();
  const [adding, setAdding] = useState(false);
  const columns: ColumnDef<Row<UpstreamCredential>>[] = [
    {
      id: "name",
      header: "Name",
      accessorFn: (row) => row.value.name,
      cell: ({ row: { original } }) => (
        <Link to={place(original.issuer, "gateway", "upstream-credentials", original.value.name)}>
          {original.value.name}
        </Link>
      ),
    },
    { id: "form", header: "Details", accessorFn: (row) => row.value.form },
    {
      id: "upstream",
      header: "For",
      accessorFn: (row) => row.value.upstream,
      cell: (it) => <span className="mono break-all">{String(it.getValue())}</span>,
    },
    {
      id: "routes",
      header: "Presented at",
      accessorFn: (row) => row.value.routes.length,
      cell: ({ row: { original } }) =>
        original.value.routes.length === 0 ? (
          <span className="text-faint">no route</span>
        ) : (
          <span className="mono">{original.value.routes.join(", ")}</span>
        ),
      meta: { aside: true },
    },
  ];
  return (
    <>
      {may.change && (
        <p className="mb-3">
          <Button onClick={() => setAdding(true)}>Add an upstream credential</Button>
        </p>
      )}
      {list.state === "loading" && <Waiting what="the upstream credentials" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty title="The gateway presents nothing of its own">
          A fixed header, a login, or a token that it fetches as a client of any issuer, for an upstream that belongs to
          another person.
        </Empty>
      )}
      {list.rows.length > 0 && (
        <Table label="Upstream credentials" rows={list.rows} columns={columns} rowId={(row) => row.value.id} />
      )}
      <div className="mt-5">
        <Line>admit upstream-credential list</Line>
      </div>
      {adding && (
        <Window
          open
          wide
          onClose={() => setAdding(false)}
          title="Add an upstream credential"
          what="The secret is sealed, and never shown again."
        >
          <Form
            start={{
              name: "",
              form: "header",
              upstream: "",
              header: "",
              user: "",
              client_id: "",
              secret: "",
              issuer: "",
              token_endpoint: "",
              auth: "",
              scope: "",
              parameters: {},
            }}
            submit="Add it"
            onCancel={() => setAdding(false)}
            fields={[
              { kind: "text", name: "name", label: "Name", mono: true },
              {
                kind: "choice",
                name: "form",
                label: "Details",
                choices: [
                  ["header", "the value of a header"],
                  ["login", "a login and password"],
                  ["token", "a token that it fetches"],
                ],
              },
              ...FIELDS,
              { kind: "text", name: "secret", label: "The secret", secret: true, autoComplete: "new-password" },
            ]}
            cli={(values) => `admit upstream-credential add ${shell(String(values.name || "NAME"))}`}
            onSubmit={async (body) => {
              const rest = Object.fromEntries(Object.entries(body).filter(([name]) => name !== "form"));
              const outcome = await act(
                Changed,
                ofIssuer(target, "upstream-credentials"),
                { method: "POST", body: rest },
                (made) => ({ now: `${made.now.name} is kept, sealed.` }),
              );
              if (!outcome.done) return outcome.refusal;
              void navigate(place(target, "gateway", "upstream-credentials", outcome.value.now.name));
              return null;
            }}
          />
        </Window>
      )}
    </>
  );
}

export function UpstreamCredentialPage() {
  const issuer = useIssuer();
  const { name = "" } = useParams();
  const path = ofIssuer(issuer, "upstream-credentials", name);
  const { may } = useSession();
  const act = useAct();
  const navigate = useNavigate();
  const credential = useThing(UpstreamCredential, path);
  const [steps, setSteps] = useState<StepsShape | null>(null);
  return (
    <Show of={credential} what="the upstream credential">
      {(it, etag) => (
        <WithRail
          rail={
            <>
              <Sentences
                of={[
                  `The gateway presents it to ${it.upstream} and what lies below, and nowhere else.`,
                  it.routes.length === 0 ? "No route presents it." : `It is presented at ${joined(it.routes)}.`,
                ]}
              />
              <div className="mt-3">
                <Line>{`admit upstream-credential show ${shell(it.name)}`}</Line>
              </div>
            </>
          }
        >
          <Editable
            title={it.name}
            path={path}
            shape={UpstreamCredential}
            answer={Changed}
            fields={[
              ...FIELDS,
              {
                kind: "text",
                name: "secret",
                label: "Another secret",
                secret: true,
                autoComplete: "new-password",
                help: "Left empty, the one that is kept stays.",
              },
            ]}
            valuesOf={(one) => ({ ...valuesOf(one), secret: "" })}
            thing={it}
            etag={etag}
            may={may.change}
            said={`${it.name} is changed.`}
            cli={`admit upstream-credential change ${shell(it.name)}`}
          />
          <Section title="Does it work">
            <Form
              fields={[
                {
                  kind: "text",
                  name: "path",
                  label: "A path at the upstream",
                  mono: true,
                  placeholder: "/warnings",
                  cli: "--path",
                },
              ]}
              start={{ path: "/" }}
              submit="Present it now"
              cli={() => `admit upstream-credential check ${shell(it.name)}`}
              onSubmit={async (_, values) => {
                const outcome = await act(StepsShape, `${path}/check` + query({ path: String(values.path ?? "") }), {
                  method: "POST",
                });
                setSteps(outcome.done ? outcome.value : null);
                return outcome.done ? null : outcome.refusal;
              }}
            />
            {steps && <Steps of={steps} />}
          </Section>
          {may.change && (
            <Section title="No longer">
              <Removal
                label="Remove it"
                title={`Remove ${it.name}`}
                explain="Routes that present it go without."
                path={path}
                said={`${it.name} is removed.`}
                onDone={() => void navigate(place(issuer, "gateway", "upstream-credentials"))}
              />
            </Section>
          )}
        </WithRail>
      )}
    </Show>
  );
}
