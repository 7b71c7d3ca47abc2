// From nothing to an admitted request, in the order of the work; each step is real, and can be taken up again where it
// was left.
import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import type * as v from "valibot";
import { useAct } from "../api/changing";
import { type Refused, asRefused, ask, ofIssuer } from "../api/http";
import {
  Api,
  Approval,
  type Called,
  Called as CalledShape,
  ClientMade,
  Issuer,
  RouteRevised,
  Scope,
  type SecretOnce,
  changed,
  page,
} from "../api/answers";
import { Button, ButtonLink, Head, Line, Refusal, shell } from "../parts/basics";
import { type Field, Form } from "../parts/form";
import { Mark } from "../parts/mark";
import { SecretShown } from "../parts/secret";
import { FOR } from "../parts/words";
import { place, useIssuers } from "./issuers";
import { useSession } from "./session";

type Made = {
  issuer: string;
  api: string;
  scope: string;
  consequence: string;
  client: string;
  approved: boolean;
  path: string;
};
const ApprovalPage = page(Approval);
const STEPS = ["API", "Client", "Approval", "Gateway", "First call"];

export default function FirstApi() {
  const { who, may } = useSession();
  const { all } = useIssuers();
  const others = all.filter((it) => it.name !== "admit");
  const first = others[0];
  const [made, setMade] = useState<Made>({
    issuer: who.all ? (first?.name ?? "") : who.issuer,
    api: "",
    scope: "",
    consequence: "",
    client: "",
    approved: false,
    path: "",
  });
  const [secret, setSecret] = useState<v.InferOutput<typeof SecretOnce> | null>(null);
  const put = (more: Partial<Made>) => setMade((before) => ({ ...before, ...more }));
  const step = !made.scope ? 0 : !made.client ? 1 : !made.approved ? 2 : !made.path ? 3 : 4;
  if (!may.change) return <Head title="The first protected API" what="An operator or an administrator does this." />;
  return (
    <>
      <Head
        title="The first protected API"
        what="Five steps, each of them real: at the end a call is admitted, and one is refused."
      />
      <ol className="mb-6 flex flex-wrap gap-x-6 gap-y-2" aria-label="Steps">
        {STEPS.map((name, index) => (
          <li
            key={name}
            aria-current={index === step ? "step" : undefined}
            className={`flex items-start gap-2 ${index === step ? "font-semibold" : "text-faint"}`}
          >
            <Mark verdict={index < step ? "admitted" : index === step ? "waiting" : "ended"} />
            {index + 1}. {name}
          </li>
        ))}
      </ol>
      <div className="max-w-3xl">
        {step === 0 && <StepApi issuers={who.all ? others : all} canAdd={who.all} start={made.issuer} onDone={put} />}
        {step === 1 && (
          <StepClient
            made={made}
            onDone={(client, once) => {
              put({ client });
              setSecret(once);
            }}
          />
        )}
        {step === 2 && <StepApproval made={made} may={may.approve} onDone={() => put({ approved: true })} />}
        {step === 3 && <StepGateway made={made} onDone={(path) => put({ path })} />}
        {step === 4 && <StepCall made={made} />}
      </div>
      {secret && <SecretShown of={secret} onClose={() => setSecret(null)} />}
    </>
  );
}

function Step({ title, why, children }: { title: string; why: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="rounded border border-hair bg-raised p-5">
      <h2 className="text-[1.125rem]">{title}</h2>
      <p className="mt-1 mb-4 text-faint">{why}</p>
      {children}
    </section>
  );
}

function StepApi({
  issuers,
  canAdd,
  start,
  onDone,
}: {
  issuers: Issuer[];
  canAdd: boolean;
  start: string;
  onDone: (made: Partial<Made>) => void;
}) {
  const act = useAct();
  const client = useQueryClient();
  const none: [string, string][] = canAdd ? [["", "a new one"]] : [];
  const which: Field = {
    kind: "choice",
    name: "issuer",
    label: "Issuer",
    choices: [...issuers.map((it): [string, string] => [it.name, it.title]), ...none],
  };
  return (
    <Step
      title="What is to be protected"
      why={
        "An API has a name, an audience that its tokens are for, and scopes: what may be " +
        "done with it. Admit proposes the consequence and the audience."
      }
    >
      <Form
        start={{
          issuer: start,
          new_issuer: issuers.length === 0 ? "harbour" : "",
          name: "",
          upstream: "",
          verb: "read",
          effect: "reads",
          for: "clients",
        }}
        submit="Add the API and its scope"
        fields={[
          ...(issuers.length > 0 ? [which] : []),
          {
            kind: "text",
            name: "new_issuer",
            label: "Name of the new issuer",
            mono: true,
            help: "Whose URL everyone configures themselves from: the name is its last part.",
            when: (values) => issuers.length === 0 || values.issuer === "",
          },
          { kind: "text", name: "name", label: "Name of the API", mono: true, placeholder: "lighthouse" },
          {
            kind: "text",
            name: "upstream",
            label: "Where it is, behind the gateway",
            mono: true,
            placeholder: "http://127.0.0.1:8080",
            help: "Empty when there is none yet: the gateway then answers by itself, so that the call below works.",
          },
          { kind: "text", name: "verb", label: "What may be done with it, in a word", mono: true, placeholder: "read" },
          {
            kind: "choice",
            name: "effect",
            label: "Does it read or change",
            choices: [
              ["reads", "it reads"],
              ["changes", "it changes"],
            ],
          },
          {
            kind: "choice",
            name: "for",
            label: "Who holds it",
            choices: FOR.filter(([word]) => word !== "people"),
          },
        ]}
        cli={(values) =>
          `admit api add ${shell(String(values.name || "NAME"))}` +
          `${values.upstream ? ` --upstream ${shell(String(values.upstream))}` : ""}; ` +
          `admit scope add ${shell(String(values.name || "NAME"))} ` +
          `${shell(`${String(values.name || "NAME")}.${String(values.verb || "read")}`)} ` +
          `--effect ${String(values.effect)} --for ${String(values.for)}`
        }
        onSubmit={async (_, values): Promise<Refused | null> => {
          let issuer = String(values.issuer ?? "");
          if (issuer === "") {
            const added = await act(changed(Issuer), "/issuers", { method: "POST", body: { name: values.new_issuer } });
            if (!added.done && added.refusal.problem.reason !== "taken") return added.refusal;
            issuer = String(values.new_issuer).trim();
            await client.invalidateQueries({ queryKey: ["service"] });
          }
          const name = String(values.name ?? "").trim();
          const api = await act(changed(Api), ofIssuer(issuer, "apis"), {
            method: "POST",
            body: { name, upstream: values.upstream || undefined },
          });
          if (!api.done && api.refusal.problem.reason !== "taken") return api.refusal;
          const scope = await act(
            changed(Scope),
            ofIssuer(issuer, "apis", name, "scopes"),
            {
              method: "POST",
              body: {
                name: `${name}.${String(values.verb).trim()}`,
                effect: values.effect,
                reach: "everyone",
                for: values.for,
              },
            },
            (it) => ({ now: `${it.now.name} is there: ${it.now.consequence_reads.administrator}` }),
          );
          if (!scope.done) return scope.refusal;
          const made = scope.value.now;
          if (values.effect === "reads") {
            const defaults = await act(changed(Api), ofIssuer(issuer, "apis", name), {
              method: "PATCH",
              body: { default_scopes: [made.name] },
              ifMatch: "*",
            });
            if (!defaults.done) return defaults.refusal;
          }
          onDone({ issuer, api: name, scope: made.name, consequence: made.consequence_reads.administrator });
          return null;
        }}
      />
    </Step>
  );
}

function StepClient({
  made,
  onDone,
}: {
  made: Made;
  onDone: (client: string, secret: v.InferOutput<typeof SecretOnce> | null) => void;
}) {
  const act = useAct();
  return (
    <Step
      title="Who will call it"
      why={`A client requests ${made.scope}; a request grants nothing yet. Its secret is shown once.`}
    >
      <Form
        start={{ name: "", title: "" }}
        submit="Register the client"
        cli={(values) =>
          `admit client add ${shell(String(values.name || "NAME"))} ` +
          `--scope ${shell(made.scope)} --issuer ${shell(made.issuer)}`
        }
        fields={[
          { kind: "text", name: "name", label: "Name of the client", mono: true, placeholder: "night-watch" },
          { kind: "text", name: "title", label: "Title" },
        ]}
        onSubmit={async (body) => {
          const outcome = await act(
            ClientMade,
            ofIssuer(made.issuer, "clients"),
            { method: "POST", body: { ...body, kind: "machine", scopes: [made.scope] } },
            (it) => ({ now: `The client ${it.now.name} is registered.` }),
          );
          if (!outcome.done) return outcome.refusal;
          onDone(outcome.value.now.name, outcome.value.secret ?? null);
          return null;
        }}
      />
    </Step>
  );
}

function StepApproval({ made, may, onDone }: { made: Made; may: boolean; onDone: () => void }) {
  const act = useAct();
  const [refused, setRefused] = useState<Refused | null>(null);
  const grant = async () => {
    try {
      const waiting = await ask(
        ApprovalPage,
        ofIssuer(made.issuer, "approvals") +
          `?client=${encodeURIComponent(made.client)}&scope=${encodeURIComponent(made.scope)}`,
      );
      const one = waiting.value.items[0];
      if (!one) return;
      const outcome = await act(
        changed(Approval),
        ofIssuer(made.issuer, "approvals", one.id, "grant"),
        { method: "POST", body: {} },
        () => ({ now: `${made.client} may use ${made.scope}.` }),
      );
      if (outcome.done) onDone();
      else setRefused(outcome.refusal);
    } catch (error) {
      setRefused(asRefused(error));
    }
  };
  return (
    <Step
      title="An administrator approves"
      why="A permission for a client on its own always needs an administrator. This is what they read:"
    >
      <blockquote className="mb-4 border-l-2 border-accent pl-3">
        <span className="mono">{made.client}</span> requests <span className="mono">{made.scope}</span>:{" "}
        {made.consequence}
      </blockquote>
      {refused && <Refusal of={refused} />}
      {may ? (
        <Button kind="act" onClick={() => void grant()}>
          Grant it
        </Button>
      ) : (
        <p className="text-ochre-ink">It waits for an administrator of {made.issuer}.</p>
      )}
      <div className="mt-3">
        <Line>{`admit approval grant ${shell(made.client)} ${shell(made.scope)} --issuer ${shell(made.issuer)}`}</Line>
      </div>
    </Step>
  );
}

function StepGateway({ made, onDone }: { made: Made; onDone: (path: string) => void }) {
  const act = useAct();
  return (
    <Step
      title="The gateway stands in front"
      why="A route says which requests, and what they need. What matches no route gets one plain answer."
    >
      <Form
        start={{ path: `/${made.api}/**`, answers: true }}
        submit="Put the route in front"
        cli={(values) =>
          `admit route add GET ${shell(String(values.path))} --api ${shell(made.api)} ` +
          `--scope ${shell(made.scope)} --issuer ${shell(made.issuer)}`
        }
        fields={[
          { kind: "text", name: "path", label: "Path", mono: true, wide: true },
          {
            kind: "flag",
            name: "answers",
            label: "The gateway answers by itself",
            words: "For when nothing listens at the upstream yet. Remove it once something does.",
          },
        ]}
        onSubmit={async (_, values) => {
          const outcome = await act(
            RouteRevised,
            ofIssuer(made.issuer, "routes"),
            {
              method: "POST",
              body: {
                methods: ["GET"],
                path: values.path,
                api: made.api,
                scopes: [made.scope],
                ...(values.answers
                  ? {
                      fixed_response: {
                        status: 200,
                        content_type: "application/json",
                        body: '{"gate":"open","decision":"{{decision}}"}',
                      },
                    }
                  : {}),
              },
            },
            (it) => ({ now: `The route is live, as revision ${it.revision}.` }),
          );
          if (!outcome.done) return outcome.refusal;
          onDone(outcome.value.now.path.replace(/\/\*\*$/, "/first"));
          return null;
        }}
      />
    </Step>
  );
}

function StepCall({ made }: { made: Made }) {
  const act = useAct();
  const [calls, setCalls] = useState<{ admitted: Called; refused: Called } | null>(null);
  const [problem, setProblem] = useState<Refused | null>(null);
  const call = async () => {
    const path = ofIssuer(made.issuer, "calls");
    const admitted = await act(CalledShape, path, {
      method: "POST",
      body: { method: "GET", path: made.path, client: made.client, scope: made.scope },
    });
    if (!admitted.done) {
      setProblem(admitted.refusal);
      return;
    }
    const refused = await act(CalledShape, path, { method: "POST", body: { method: "GET", path: made.path } });
    if (!refused.done) {
      setProblem(refused.refusal);
      return;
    }
    setCalls({ admitted: admitted.value, refused: refused.value });
  };
  return (
    <Step
      title="The first call"
      why={`Once as ${made.client}, once without a token. Both go through the gateway, now.`}
    >
      {problem && <Refusal of={problem} />}
      {!calls && (
        <Button kind="act" onClick={() => void call()}>
          Call it, twice
        </Button>
      )}
      {calls && (
        <div className="grid gap-4 sm:grid-cols-2" aria-live="polite">
          <One title={`As ${made.client}`} of={calls.admitted} issuer={made.issuer} />
          <One title="Without a token" of={calls.refused} issuer={made.issuer} />
        </div>
      )}
      {calls && (
        <p className="mt-5 flex flex-wrap gap-2">
          <ButtonLink kind="act" to={`/${made.issuer}`}>
            See the access map
          </ButtonLink>
          <ButtonLink to={place(made.issuer, "clients", made.client)}>Open the client</ButtonLink>
        </p>
      )}
      <div className="mt-4">
        <Line>{`admit call GET ${shell(made.path)} --trial ${shell(made.client)} --issuer ${shell(made.issuer)}`}</Line>
      </div>
    </Step>
  );
}

function One({ title, of, issuer }: { title: string; of: Called; issuer: string }) {
  const decision = of.decision ?? of.trial;
  const admitted = of.decision?.verdict === "admitted";
  return (
    <div className="rounded border border-hair px-4 py-3">
      <h3>{title}</h3>
      <p className={`mt-1 flex items-start gap-2 font-semibold ${admitted ? "text-accent" : "text-rust"}`}>
        <Mark verdict={admitted ? "admitted" : "refused"} />
        {admitted ? "admitted" : `refused: ${decision?.reason ?? ""}`}, answered {of.status}
      </p>
      {!admitted && decision?.fix?.sentence && <p className="mt-1">{decision.fix.sentence}</p>}
      {admitted && of.status >= 500 && (
        <p className="mt-1 text-ochre-ink">The gateway let it through; what is behind it did not answer.</p>
      )}
      {admitted && of.body && (
        <pre
          tabIndex={0}
          className="mt-2 max-h-32 overflow-auto rounded bg-shade px-2 py-1 break-all whitespace-pre-wrap"
        >
          {of.body}
        </pre>
      )}
      {decision && (
        <p className="mt-2">
          <Link to={place(issuer, "decisions", decision.id)}>Every check of it</Link>
        </p>
      )}
    </div>
  );
}
