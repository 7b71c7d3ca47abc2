// Plans: calls and limits that clients subscribe to, and who is subscribed to each.
import type { ColumnDef } from "@tanstack/react-table";
import { Suspense, lazy, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { type Row, useRows, useThing } from "../../api/reading";
import { Plan, Subscription, Usage, changed } from "../../api/answers";
import { place, useIssuer, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Empty, Line, Refusal, Section, Sentences, Show, Waiting, WithRail, shell } from "../../parts/basics";
import { Removal, Window } from "../../parts/dialogs";
import { Editable } from "../../parts/editable";
import { type Field, Form, type Values } from "../../parts/form";
import { Told, verdictOf } from "../../parts/mark";
import { Table } from "../../parts/table";
import { Time } from "../../parts/time";
import { joined } from "../../parts/words";

const UsageFigures = lazy(() => import("./usage"));
const PlanChanged = changed(Plan);
const Changed = changed(Subscription);

const FIELDS: Field[] = [
  { kind: "text", name: "title", label: "Title", cli: "--title", wide: true },
  { kind: "area", name: "description", label: "What it is for", cli: "--description", rows: 2, help: "Markdown." },
  {
    kind: "lines",
    name: "operations",
    label: "What it covers",
    cli: "--operation",
    cliRepeat: true,
    placeholder: "tides GET /tides/**",
    help: "One a line: the API, methods if not all, and a path.",
  },
  {
    kind: "lines",
    name: "rates",
    label: "Rates",
    cli: "--rate",
    cliRepeat: true,
    placeholder: "60 per 1m by client",
  },
  {
    kind: "lines",
    name: "quotas",
    label: "Quotas",
    cli: "--quota",
    cliRepeat: true,
    placeholder: "100000 per month by client",
  },
  {
    kind: "choice",
    name: "approval",
    label: "Who approves",
    cli: "--approval",
    choices: [
      ["automatic", "nobody: it begins at once"],
      ["owner", "an owner of one of its APIs"],
    ],
  },
  {
    kind: "text",
    name: "secret_lifetime",
    label: "A new secret lasts at most",
    cli: "--secret-lifetime",
    placeholder: "90d",
    help: "Empty for as long as the issuer allows.",
  },
  {
    kind: "area",
    name: "terms",
    label: "Terms to accept",
    cli: "--terms",
    rows: 4,
    help: "Markdown. Empty for nothing to accept.",
  },
];
const KEEP: Field = {
  kind: "text",
  name: "keep_until",
  label: "Clients that are subscribed keep what it was until",
  cli: "--keep-until",
  placeholder: "30d or 2027-01-31",
  editOnly: true,
  help: "Empty: they have the change at once.",
};

function valuesOf(it: Plan): Values {
  return {
    title: it.title,
    description: it.description,
    operations: it.operations.map(written),
    rates: it.rates,
    quotas: it.quotas,
    approval: it.approval,
    secret_lifetime: it.secret_lifetime ?? "",
    terms: it.terms,
    keep_until: "",
  };
}

function written(it: Plan["operations"][number]): string {
  return [it.api, (it.methods ?? []).join(","), it.path].filter((part) => part).join(" ");
}

/** As the API takes them: `tides GET,POST /tides/**` has three parts, and two where any method is meant. */
function asSent(members: Record<string, unknown>): Record<string, unknown> {
  const { operations, ...rest } = members;
  if (!Array.isArray(operations)) return members;
  return {
    ...rest,
    operations: operations.map((line) => {
      const [api, ...more] = String(line).trim().split(/\s+/);
      return more.length > 1
        ? { api, methods: more[0]?.split(",") ?? [], path: more[1] }
        : { api, methods: [], path: more[0] ?? "" };
    }),
  };
}

export function Plans() {
  const list = useRows(Plan, "/plans");
  const target = useTarget();
  const { may } = useSession();
  const act = useAct();
  const navigate = useNavigate();
  const [adding, setAdding] = useState(false);
  const columns: ColumnDef<Row<Plan>>[] = [
    {
      id: "plan",
      header: "Plan",
      accessorFn: (row) => row.value.name,
      cell: ({ row: { original } }) => (
        <div>
          <Link to={place(original.issuer, "gateway", "plans", original.value.name)}>{original.value.title}</Link>
          <p className="mono text-faint">{original.value.name}</p>
        </div>
      ),
    },
    {
      id: "covers",
      header: "Covers",
      accessorFn: (row) => row.value.operations.map(written).join(", "),
      cell: ({ row: { original } }) => (
        <ul>
          {original.value.operations.map((it) => (
            <li key={written(it)} className="mono break-all">
              {written(it)}
            </li>
          ))}
        </ul>
      ),
    },
    {
      id: "limits",
      header: "Limits",
      accessorFn: (row) => [...row.value.rates, ...row.value.quotas].join(", ") || "none of its own",
      meta: { aside: true },
    },
    {
      id: "approval",
      header: "Begins",
      accessorFn: (row) => (row.value.approval === "automatic" ? "at once" : "once an owner approves"),
      meta: { aside: true },
    },
    { id: "clients", header: "Clients", accessorFn: (row) => row.value.subscriptions },
    {
      id: "waiting",
      header: "Waiting",
      accessorFn: (row) => row.value.waiting,
      cell: ({ row: { original } }) =>
        original.value.waiting > 0 ? <Told verdict="waiting">{String(original.value.waiting)}</Told> : "0",
    },
  ];
  return (
    <>
      {may.change && (
        <p className="mb-3">
          <Button onClick={() => setAdding(true)}>Add a plan</Button>
        </p>
      )}
      {list.state === "loading" && <Waiting what="the plans" />}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && (
        <Empty title="No plan yet">
          A plan bundles calls and limits. A route may ask for a subscription: then only clients pass that have one
          whose plan covers the request.
        </Empty>
      )}
      {list.rows.length > 0 && <Table label="Plans" rows={list.rows} columns={columns} rowId={(row) => row.value.id} />}
      <div className="mt-5">
        <Line>admit plan list</Line>
      </div>
      {adding && (
        <Window
          open
          wide
          onClose={() => setAdding(false)}
          title="Add a plan"
          what="Developers find it beside its APIs."
        >
          <Form
            start={{
              name: "",
              title: "",
              description: "",
              operations: [],
              rates: [],
              quotas: [],
              approval: "owner",
              secret_lifetime: "",
              terms: "",
            }}
            submit="Add it"
            onCancel={() => setAdding(false)}
            fields={[{ kind: "text", name: "name", label: "Name", mono: true, required: true }, ...FIELDS]}
            cli={(values) => `admit plan add ${shell(String(values.name || "NAME"))}`}
            onSubmit={async (body) => {
              const outcome = await act(
                PlanChanged,
                ofIssuer(target, "plans"),
                { method: "POST", body: asSent(body) },
                (made) => ({ now: `The plan ${made.now.name} is there.` }),
              );
              if (!outcome.done) return outcome.refusal;
              void navigate(place(target, "gateway", "plans", outcome.value.now.name));
              return null;
            }}
          />
        </Window>
      )}
    </>
  );
}

export function PlanPage() {
  const issuer = useIssuer();
  const { name = "" } = useParams();
  const path = ofIssuer(issuer, "plans", name);
  const { may } = useSession();
  const navigate = useNavigate();
  const plan = useThing(Plan, path);
  return (
    <Show of={plan} what="the plan">
      {(it, etag) => (
        <WithRail
          rail={
            <>
              <Sentences of={it.sentences} />
              {it.earlier.map((was) => (
                <div key={was.version} className="mt-4">
                  <p>
                    Until <Time at={was.until} />, {was.subscriptions}{" "}
                    {was.subscriptions === 1 ? "client keeps" : "clients keep"} what it was:
                  </p>
                  <Sentences of={was.sentences} />
                </div>
              ))}
              <div className="mt-3">
                <Line>{`admit plan show ${shell(it.name)}`}</Line>
              </div>
            </>
          }
        >
          <Editable
            title={it.title}
            path={path}
            shape={Plan}
            answer={PlanChanged}
            fields={[...FIELDS, KEEP]}
            valuesOf={valuesOf}
            asSent={asSent}
            thing={it}
            etag={etag}
            may={may.change}
            said={`The plan ${it.name} is changed.`}
            cli={`admit plan change ${shell(it.name)}`}
            facts={[["Name", <span className="mono">{it.name}</span>]]}
          />
          <Subscribed plan={it} issuer={issuer} />
          {may.change && (
            <Section title="No longer">
              <Removal
                label="Remove it"
                title={`Remove ${it.name}`}
                explain="Subscriptions to it go with it."
                path={path}
                said={`The plan ${it.name} is removed.`}
                onDone={() => void navigate(place(issuer, "gateway", "plans"))}
              />
            </Section>
          )}
        </WithRail>
      )}
    </Show>
  );
}

type Reasoned = "decline" | "pause" | "end";

function Subscribed({ plan, issuer }: { plan: Plan; issuer: string }) {
  const list = useRows(Subscription, "/subscriptions", { plan: plan.name });
  const { may } = useSession();
  const act = useAct();
  const [adding, setAdding] = useState(false);
  const [asking, setAsking] = useState<{ of: Subscription; how: Reasoned } | null>(null);
  const [looking, setLooking] = useState<Subscription | null>(null);
  const plainly = (of: Subscription, verb: "approve" | "resume", said: string) =>
    void act(
      Changed,
      ofIssuer(issuer, "subscriptions", of.id, verb),
      verb === "approve" ? { method: "POST", body: { plan: of.moving_to ?? of.plan } } : { method: "POST" },
      () => ({ now: said }),
    );
  const columns: ColumnDef<Row<Subscription>>[] = [
    {
      id: "client",
      header: "Client",
      accessorFn: (row) => row.value.client,
      cell: ({ row: { original } }) => (
        <Link to={place(original.issuer, "clients", original.value.client)}>{original.value.client}</Link>
      ),
    },
    {
      id: "status",
      header: "Status",
      accessorFn: (row) => row.value.status,
      cell: ({ row: { original } }) => (
        <div>
          <Told verdict={verdictOf(original.value.status)}>{original.value.status}</Told>
          <p className="text-[0.8125rem] text-faint">{original.value.sentence}</p>
        </div>
      ),
    },
    {
      id: "requested",
      header: "Requested",
      accessorFn: (row) => row.value.requested_at,
      cell: ({ row: { original } }) => (
        <>
          <Time at={original.value.requested_at} />
          <span className="block text-[0.8125rem] text-faint">by {original.value.requested_by}</span>
        </>
      ),
      meta: { aside: true },
    },
    {
      id: "terms",
      header: "Terms",
      accessorFn: (row) => row.value.terms_accepted ?? 0,
      cell: ({ row: { original } }) =>
        original.value.terms_accepted === null ? (
          <span className="text-faint">none</span>
        ) : (
          `version ${original.value.terms_accepted}`
        ),
      meta: { aside: true },
    },
    {
      id: "acts",
      header: "",
      enableSorting: false,
      cell: ({ row: { original } }) => {
        const it = original.value;
        const waits = it.status === "waiting" || it.moving_to !== null;
        const live = waits || it.status === "active" || it.status === "paused";
        return (
          <span className="flex flex-wrap justify-end gap-2">
            {live && (
              <Button onClick={() => setLooking(it)} aria-label={`Usage of ${it.client}`}>
                Usage
              </Button>
            )}
            {may.change && waits && (
              <>
                <Button
                  kind="act"
                  onClick={() => plainly(it, "approve", `${it.client} may use ${it.moving_to ?? it.plan}.`)}
                  aria-label={`Approve ${it.client}`}
                >
                  Approve
                </Button>
                <Button onClick={() => setAsking({ of: it, how: "decline" })} aria-label={`Decline ${it.client}`}>
                  Decline
                </Button>
              </>
            )}
            {may.change && it.status === "active" && (
              <Button onClick={() => setAsking({ of: it, how: "pause" })} aria-label={`Pause ${it.client}`}>
                Pause
              </Button>
            )}
            {may.change && it.status === "paused" && (
              <Button
                onClick={() => plainly(it, "resume", `Calls of ${it.client} pass again.`)}
                aria-label={`Resume ${it.client}`}
              >
                Resume
              </Button>
            )}
            {may.change && live && !waits && (
              <Button kind="danger" onClick={() => setAsking({ of: it, how: "end" })} aria-label={`End ${it.client}`}>
                End
              </Button>
            )}
          </span>
        );
      },
    },
  ];
  return (
    <Section
      title="Subscriptions"
      act={may.change && !adding && <Button onClick={() => setAdding(true)}>Subscribe a client</Button>}
    >
      {adding && (
        <Form
          fields={[{ kind: "text", name: "client", label: "Client", mono: true, required: true }]}
          start={{ client: "" }}
          submit={plan.terms ? "Accept the terms for it, and subscribe it" : "Subscribe it"}
          onCancel={() => setAdding(false)}
          cli={(values) => `admit subscription add ${shell(String(values.client || "CLIENT"))} ${shell(plan.name)}`}
          onSubmit={async (_, values) => {
            const outcome = await act(
              Changed,
              ofIssuer(issuer, "clients", String(values.client), "subscriptions"),
              {
                method: "POST",
                body: { plan: plan.name, accept_terms: plan.terms ? plan.terms_version : null },
              },
              (made) => ({ now: made.now.sentence }),
            );
            if (!outcome.done) return outcome.refusal;
            setAdding(false);
            return null;
          }}
        />
      )}
      {list.refusal && <Refusal of={list.refusal} />}
      {list.state === "ready" && list.rows.length === 0 && <p className="text-faint">No client is subscribed yet.</p>}
      {list.rows.length > 0 && (
        <Table
          label="Subscriptions"
          rows={list.rows}
          columns={columns}
          rowId={(row) => row.value.id}
          more={list.more}
          onEnd={list.fetchMore}
          fetching={list.fetching}
        />
      )}
      {looking && <Looking of={looking} issuer={issuer} onClose={() => setLooking(null)} />}
      {asking && <Asking of={asking.of} how={asking.how} issuer={issuer} onClose={() => setAsking(null)} />}
    </Section>
  );
}

function Looking({ of, issuer, onClose }: { of: Subscription; issuer: string; onClose: () => void }) {
  const usage = useThing(Usage, ofIssuer(issuer, "subscriptions", of.id, "usage"));
  return (
    <Window open wide onClose={onClose} title={`What ${of.client} used`} what={joined([of.sentence])}>
      <Show of={usage} what="the usage">
        {(it) => (
          <Suspense fallback={<Waiting what="the chart" />}>
            <UsageFigures of={it} />
          </Suspense>
        )}
      </Show>
    </Window>
  );
}

const ASKED: Record<Reasoned, [string, string]> = {
  decline: ["Decline", "It goes without; whoever requested it reads why."],
  pause: ["Pause", "Nothing passes by it from the next request on, until it is resumed."],
  end: ["End", "Nothing passes by it any more. The client may request it anew, and waits for approval then."],
};

function Asking({
  of,
  how,
  issuer,
  onClose,
}: {
  of: Subscription;
  how: Reasoned;
  issuer: string;
  onClose: () => void;
}) {
  const act = useAct();
  const [title, what] = ASKED[how];
  return (
    <Window open onClose={onClose} title={`${title} the subscription of ${of.client}`} what={what}>
      <Form
        start={{ reason: "" }}
        submit={title}
        onCancel={onClose}
        fields={[{ kind: "text", name: "reason", label: "Why", cli: "--reason", wide: true, required: how !== "end" }]}
        cli={() => `admit subscription ${how} ${shell(of.client)} ${shell(of.moving_to ?? of.plan)}`}
        onSubmit={async (_, values) => {
          const outcome = await act(
            Changed,
            ofIssuer(issuer, "subscriptions", of.id, how),
            { method: "POST", body: { reason: String(values.reason) } },
            (made) => ({ now: made.now.sentence }),
          );
          if (!outcome.done) return outcome.refusal;
          onClose();
          return null;
        }}
      />
    </Window>
  );
}
