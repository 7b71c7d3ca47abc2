// An API, its scopes and its routes from the API's own OpenAPI document: what would change first, then loaded.
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { useAct } from "../../api/changing";
import { type Refused, asRefused, ask, ofIssuer, query } from "../../api/http";
import { OpenApiLoaded } from "../../api/answers";
import { place, useIssuer } from "../../frame/issuers";
import { Button, Head, Refusal, Sentences, shell } from "../../parts/basics";
import { Confirm } from "../../parts/dialogs";
import { Differences, wouldChange } from "../../parts/differences";
import { type Field, Form } from "../../parts/form";

const FIELDS: Field[] = [
  {
    kind: "text",
    name: "name",
    label: "API",
    mono: true,
    required: true,
    placeholder: "lighthouse",
    help: "The name that it has or is to have.",
  },
  {
    kind: "text",
    name: "prefix",
    label: "Paths at the gateway begin with",
    cli: "--prefix",
    mono: true,
    placeholder: "/lighthouse",
    help: "Empty: the document's own paths.",
  },
  {
    kind: "area",
    name: "document",
    label: "The OpenAPI document, in JSON or YAML",
    mono: true,
    rows: 12,
    opens: ".yaml,.yml,.json",
  },
  {
    kind: "text",
    name: "url",
    label: "Or where it is, at the upstream",
    mono: true,
    placeholder: "https://lighthouse.saltmarsh.example/openapi.json",
  },
  {
    kind: "text",
    name: "upstream",
    label: "Where the API is",
    cli: "--upstream",
    mono: true,
    help: "Empty: as it is, or as the document says.",
  },
];

type Told = { answer: OpenApiLoaded; body: Record<string, unknown> };

export default function ImportApi() {
  const issuer = useIssuer();
  const act = useAct();
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const [told, setTold] = useState<Told | null>(null);
  const [refused, setRefused] = useState<Refused | null>(null);
  const [busy, setBusy] = useState(false);
  const path = (name: unknown) => ofIssuer(issuer, "apis", String(name), "openapi", "import");
  const load = async ({ answer, body }: Told, confirm?: string) => {
    const outcome = await act(
      OpenApiLoaded,
      path(answer.api) + query({ confirm }),
      { method: "POST", body: { ...body, load: true, sha256: answer.sha256 } },
      (value) => ({ now: `${value.steps.length} things changed.` }),
    );
    setBusy(false);
    setRefused(outcome.done ? null : outcome.refusal);
    if (outcome.done) void navigate(place(issuer, "apis", answer.api));
  };
  return (
    <>
      <Head
        title="Import an OpenAPI document"
        what="Its API, scopes and routes. What would change is shown first; nothing is removed."
      />
      <Form
        fields={FIELDS}
        start={{ name: params.get("api") ?? "", prefix: "", document: "", url: "", upstream: "" }}
        submit="Show what would change"
        onCancel={() => void navigate(-1)}
        cli={(values) =>
          `admit api import ${shell(String(values.name || "NAME"))} ${shell(String(values.url || "FILE"))}`
        }
        onSubmit={async (all, values): Promise<Refused | null> => {
          const body = Object.fromEntries(Object.entries(all).filter(([member]) => member !== "name"));
          setTold(null);
          setRefused(null);
          try {
            const answered = await ask(OpenApiLoaded, path(values.name), { method: "POST", body });
            setTold({ answer: answered.value, body });
            return null;
          } catch (error) {
            return asRefused(error);
          }
        }}
      />
      {told && (
        <section aria-live="polite" aria-label="What would change" className="mt-6">
          <h2 className="mb-2">{wouldChange(told.answer.steps)}</h2>
          <Differences of={told.answer.steps} />
          {told.answer.gone.length > 0 && (
            <>
              <h3 className="mt-3 mb-1 text-ochre-ink">Routes that answer no operation of the document</h3>
              <Sentences of={told.answer.gone} />
            </>
          )}
          {told.answer.notes.length > 0 && (
            <>
              <h3 className="mt-3 mb-1">Worth a look</h3>
              <Sentences of={told.answer.notes} />
            </>
          )}
          {told.answer.steps.length > 0 && (
            <p className="mt-3">
              <Button
                kind="act"
                disabled={busy}
                onClick={() => {
                  setBusy(true);
                  void load(told);
                }}
              >
                {busy ? "Working…" : "Load it"}
              </Button>
            </p>
          )}
          {refused &&
            (refused.problem.confirm ? (
              <Confirm
                of={refused}
                title={`Import ${told.answer.api}`}
                onClose={() => setRefused(null)}
                onYes={(word) => load(told, word)}
              />
            ) : (
              <Refusal of={refused} />
            ))}
        </section>
      )}
    </>
  );
}
