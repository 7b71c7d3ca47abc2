// How an API stands in the catalogue: who finds it, what is said of it, and how each kind of reader sees it.
import { useState } from "react";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { useThing } from "../../api/reading";
import { type Api, Publication, changed } from "../../api/answers";
import { Button, Sentences, Show, shell } from "../../parts/basics";
import { Editable } from "../../parts/editable";
import { type Field, Form, type Values } from "../../parts/form";

const PublicationChanged = changed(Publication);
const READERS: [string, string][] = [
  ["none", "nobody: it is not published"],
  ["public", "everybody"],
  ["signed-in", "people who are signed in"],
  ["named", "people who are named"],
];
const FIELDS: Field[] = [
  { kind: "choice", name: "readers", label: "Who finds it", cli: "--readers", choices: READERS },
  {
    kind: "lines",
    name: "people",
    label: "Named people",
    cli: "--person",
    cliRepeat: true,
    when: (values: Values) => values["readers"] === "named",
    help: "Their e-mail addresses, one a line.",
  },
  {
    kind: "area",
    name: "description",
    label: "Description",
    cli: "--description",
    rows: 4,
    wide: true,
    help: "What the API is for, in Markdown.",
  },
  {
    kind: "area",
    name: "getting_started",
    label: "Getting started",
    cli: "--getting-started",
    rows: 10,
    wide: true,
    mono: true,
    opens: ".md,.txt",
    help: "In Markdown. {{client_id}}, {{issuer}}, {{gateway}} and {{audience}} are filled in for the reader.",
  },
];

export function InCatalogue({ issuer, api, may }: { issuer: string; api: Api; may: boolean }) {
  const path = ofIssuer(issuer, "apis", api.name, "catalogue");
  const publication = useThing(Publication, path);
  return (
    <Show of={publication} what="how it stands in the catalogue">
      {(it, etag) => (
        <Editable
          title="Catalogue"
          path={path}
          shape={Publication}
          answer={PublicationChanged}
          fields={FIELDS}
          valuesOf={(of) => ({
            readers: of.readers,
            people: of.people,
            description: of.description,
            getting_started: of.getting_started,
          })}
          thing={it}
          etag={etag}
          may={may}
          said={`What the catalogue says of ${api.name} is changed.`}
          cli={`admit catalogue publish ${shell(api.name)}`}
          extra={
            <div className="mt-4">
              <Sentences of={it.sentences} />
              <p className="mt-2">
                See it as <a href={it.page}>yourself</a>, <a href={it.page + "?as=public"}>everybody</a>,{" "}
                <a href={it.page + "?as=signed-in"}>people who are signed in</a> or{" "}
                <a href={it.page + "?as=named"}>people who are named</a>.
              </p>
              <Changes path={path} of={it} etag={etag} may={may} />
            </div>
          }
        />
      )}
    </Show>
  );
}

function Changes({ path, of, etag, may }: { path: string; of: Publication; etag: string | null; may: boolean }) {
  const [adding, setAdding] = useState(false);
  const act = useAct();
  const put = (changes: Publication["changes"], said: string) =>
    act(PublicationChanged, path, { method: "PATCH", body: { changes }, ifMatch: etag }, () => ({
      now: said,
      undo: async () => {
        await act(PublicationChanged, path, { method: "PATCH", body: { changes: of.changes }, ifMatch: "*" });
      },
    }));
  return (
    <div className="mt-4">
      <h3 className="mb-1">Change notes</h3>
      {of.changes.length === 0 && <p className="text-faint">None yet.</p>}
      <ul>
        {of.changes.map((note, at) => (
          <li key={`${note.date} ${note.text}`} className="flex items-start justify-between gap-3 py-1">
            <span>
              <span className="mono">{note.date}</span> {note.text}
            </span>
            {may && (
              <Button
                aria-label={`Remove the note of ${note.date}: ${note.text}`}
                onClick={() =>
                  void put(
                    of.changes.filter((_, i) => i !== at),
                    "The note is removed.",
                  )
                }
              >
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      {may && !adding && <Button onClick={() => setAdding(true)}>Add a note</Button>}
      {adding && (
        <Form
          fields={[
            {
              kind: "text",
              name: "text",
              label: "What changed",
              cli: "--note",
              wide: true,
              required: true,
              help: "It is dated today.",
            },
          ]}
          start={{ text: "" }}
          submit="Add the note"
          onCancel={() => setAdding(false)}
          cli={() => `admit catalogue publish ${shell(of.api)}`}
          onSubmit={async (_, values) => {
            const today = new Date().toISOString().slice(0, 10);
            const outcome = await put(
              [{ date: today, text: String(values["text"]) }, ...of.changes],
              "The note stands in the catalogue.",
            );
            if (outcome.done) setAdding(false);
            return outcome.done ? null : outcome.refusal;
          }}
        />
      )}
    </div>
  );
}
