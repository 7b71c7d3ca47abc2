// An API's OpenAPI document: as callers see it, and held against the routes in force.
import { useState } from "react";
import * as v from "valibot";
import { type Refused, asRefused, ask, ofIssuer } from "../../api/http";
import { type Api, OpenApiChecked } from "../../api/answers";
import { place } from "../../frame/issuers";
import { Button, ButtonLink, Line, Refusal, Section, Sentences, shell } from "../../parts/basics";
import { Code } from "../../parts/code";
import { Time } from "../../parts/time";

export function OpenApi({ issuer, api, may }: { issuer: string; api: Api; may: boolean }) {
  const path = ofIssuer(issuer, "apis", api.name, "openapi");
  const [document, setDocument] = useState<string | null>(null);
  const [checked, setChecked] = useState<OpenApiChecked | null>(null);
  const [refused, setRefused] = useState<Refused | null>(null);
  const run = (what: () => Promise<void>) => {
    setRefused(null);
    void what().catch((error: unknown) => setRefused(asRefused(error)));
  };
  return (
    <Section
      title="OpenAPI document"
      act={
        <span className="flex flex-wrap gap-2">
          <Button
            onClick={() =>
              run(async () => {
                const answered = await ask(v.record(v.string(), v.unknown()), path);
                setDocument(JSON.stringify(answered.value, null, 2));
              })
            }
          >
            As callers see it
          </Button>
          {api.openapi && (
            <Button
              onClick={() =>
                run(async () => {
                  setChecked((await ask(OpenApiChecked, path + "/check", { method: "POST", body: {} })).value);
                })
              }
            >
              Check the routes
            </Button>
          )}
          {may && <ButtonLink to={place(issuer, "apis", "import") + `?api=${api.name}`}>Import</ButtonLink>}
        </span>
      }
    >
      {api.openapi ? (
        <p>
          {api.openapi.title} {api.openapi.version}, {api.openapi.operations} operations, imported{" "}
          <Time at={api.openapi.imported_at} />.
        </p>
      ) : (
        <p className="text-faint">It has none.</p>
      )}
      {refused && <Refusal of={refused} />}
      {document !== null && <Code name={`${api.name}.json`} text={document} />}
      {checked && (
        <div className="mt-3" aria-live="polite">
          {checked.agrees && <p>The routes and the document agree.</p>}
          <Found title="Promised, and no route lets it through" of={checked.not_reached} />
          <Found
            title="The route wants something else than the document says"
            of={checked.otherwise.map((it) => `${it.operation}: ${it.wanted}, not ${it.promised} (${it.route})`)}
          />
          <Found title="Let through, and not promised" of={checked.not_promised} />
          <Found title="Lets through more than is promised" of={checked.wider} />
          <div className="mt-3">
            <Line>{`admit route check-against --api ${shell(api.name)}`}</Line>
          </div>
        </div>
      )}
    </Section>
  );
}

function Found({ title, of }: { title: string; of: string[] }) {
  if (of.length === 0) return null;
  return (
    <>
      <h3 className="mt-3 mb-1 text-ochre-ink">{title}</h3>
      <Sentences of={of} />
    </>
  );
}
