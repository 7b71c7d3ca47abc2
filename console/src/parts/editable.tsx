// A section of an object's page: read it, change it where it stands, and settle it when another person was faster.
import { type ReactNode, useState } from "react";
import type * as v from "valibot";
import { usePatch } from "../api/changing";
import { Refused } from "../api/http";
import { Button, Facts, Section } from "./basics";
import { Confirm, Window } from "./dialogs";
import { type Field, Form, type Value, type Values, asMergePatch, body, members, same } from "./form";

type Props<T extends v.GenericSchema> = {
  title: string;
  path: string;
  shape: T;
  answer: v.GenericSchema<unknown, { now: v.InferOutput<T>; notes: string[] }>;
  fields: Field[];
  valuesOf: (thing: v.InferOutput<T>) => Values;
  thing: v.InferOutput<T>;
  etag: string | null;
  may: boolean;
  said: string;
  cli: string;
  /** PUT where the whole has to be sent; what is not in the form comes from here. */
  whole?: (thing: v.InferOutput<T>, members: Record<string, unknown>) => Record<string, unknown>;
  /** What is sent for what was changed, where the form has it otherwise. */
  asSent?: (members: Record<string, unknown>) => Record<string, unknown>;
  /** Whether the change is kept with a reason, as revisions are. */
  asksWhy?: boolean;
  extra?: ReactNode;
  facts?: [string, ReactNode][];
};

const WHY: Field = {
  kind: "text",
  name: "why",
  label: "Why",
  cli: "--why",
  wide: true,
  help: "Kept with the revision.",
};

export function Editable<T extends v.GenericSchema>({
  title,
  path,
  shape,
  answer,
  fields,
  valuesOf,
  thing,
  etag,
  may,
  said,
  cli,
  whole,
  asSent = (members) => members,
  asksWhy = false,
  extra,
  facts,
}: Props<T>) {
  const [editing, setEditing] = useState<{ values: Values; etag: string | null } | null>(null);
  const [conflict, setConflict] = useState<{ mine: Values; theirs: v.InferOutput<T>; etag: string | null } | null>(
    null,
  );
  const [confirming, setConfirming] = useState<{
    of: Refused;
    again: (word: string) => Promise<Refused | null>;
  } | null>(null);
  const patch = usePatch(shape, answer, path);
  const now = valuesOf(thing);

  const send = async (
    changes: Record<string, unknown>,
    values: Values,
    before: Values,
    tag: string | null,
    word?: string,
  ): Promise<Refused | null> => {
    if (Object.keys(changes).length === 0) {
      setEditing(null);
      return null;
    }
    const touched = fields.filter((field) => !same(values[field.name], before[field.name]));
    const { why, ...plain } = changes;
    const to = whole ? whole(thing, plain) : asSent(asMergePatch(fields, plain, before));
    const back = whole
      ? whole(thing, members(touched, before))
      : asSent(asMergePatch(fields, members(touched, before), values));
    const outcome = await patch(
      to,
      tag,
      said,
      back,
      whole ? "PUT" : "PATCH",
      typeof why === "string" ? why : undefined,
      word,
    );
    if (outcome.done) {
      setEditing(null);
      setConflict(null);
      setConfirming(null);
      return null;
    }
    if (!("conflict" in outcome) && outcome.refusal.problem.confirm && word === undefined) {
      setConfirming({ of: outcome.refusal, again: (typed) => send(changes, values, before, tag, typed) });
      return null;
    }
    if ("conflict" in outcome) {
      setConflict({ mine: values, theirs: outcome.conflict.theirs, etag: outcome.conflict.etag });
      return null;
    }
    return outcome.refusal;
  };

  return (
    <Section
      title={title}
      act={
        may && !editing ? (
          <Button onClick={() => setEditing({ values: now, etag })} aria-label={`Change ${title.toLowerCase()}`}>
            Change
          </Button>
        ) : undefined
      }
    >
      {editing ? (
        <Form
          fields={asksWhy ? [...fields, WHY] : fields}
          start={editing.values}
          before={editing.values}
          submit="Save"
          onCancel={() => setEditing(null)}
          cli={() => cli}
          onSubmit={(changes, values) => send(changes, values, editing.values, editing.etag)}
        />
      ) : (
        <Facts
          of={[
            ...fields
              .filter((field) => !field.editOnly && (!field.when || field.when(now)))
              .map((field): [string, ReactNode] => [
                field.label,
                <Read key={field.name} field={field} value={now[field.name] ?? ""} />,
              ]),
            ...(facts ?? []),
          ]}
        />
      )}
      {extra}
      {confirming && (
        <Confirm
          of={confirming.of}
          title={`Change ${title.toLowerCase()}`}
          onClose={() => setConfirming(null)}
          onYes={async (word) => {
            const refused = await confirming.again(word);
            if (refused) setConfirming({ ...confirming, of: refused });
          }}
        />
      )}
      {conflict && (
        <Window
          open
          onClose={() => setConflict(null)}
          title="Another person changed it meanwhile"
          what="Nothing of theirs is lost: choose which values are to hold."
          wide
        >
          <table className="w-full">
            <thead>
              <tr className="text-left text-faint">
                <th className="py-1 font-medium">Member</th>
                <th className="py-1 font-medium">Theirs, in force now</th>
                <th className="py-1 font-medium">Yours</th>
              </tr>
            </thead>
            <tbody>
              {fields
                .filter((field) => !same(conflict.mine[field.name], valuesOf(conflict.theirs)[field.name]))
                .map((field) => (
                  <tr key={field.name} className="border-t border-hair align-top">
                    <td className="py-1.5 pr-3">{field.label}</td>
                    <td className="py-1.5 pr-3">
                      <Read field={field} value={valuesOf(conflict.theirs)[field.name] ?? ""} />
                    </td>
                    <td className="py-1.5">
                      <Read field={field} value={conflict.mine[field.name] ?? ""} />
                    </td>
                  </tr>
                ))}
            </tbody>
          </table>
          <div className="mt-4 flex justify-end gap-2">
            <Button
              onClick={() => {
                setConflict(null);
                setEditing(null);
              }}
            >
              Keep theirs
            </Button>
            <Button
              kind="act"
              onClick={() => {
                const touched = editing
                  ? fields.filter((field) => !same(conflict.mine[field.name], editing.values[field.name]))
                  : fields;
                void send(
                  body(touched, conflict.mine, valuesOf(conflict.theirs)),
                  conflict.mine,
                  valuesOf(conflict.theirs),
                  conflict.etag,
                );
              }}
            >
              Put mine on top
            </Button>
          </div>
        </Window>
      )}
    </Section>
  );
}

export function Read({ field, value }: { field: Field; value: Value }) {
  if (field.kind === "flag") return <>{value === true ? "yes" : "no"}</>;
  if (Array.isArray(value))
    return value.length === 0 ? (
      <None />
    ) : (
      <ul>
        {value.map((one) => (
          <li key={one} className={field.kind === "lines" || field.kind === "several" ? "mono break-all" : ""}>
            {one}
          </li>
        ))}
      </ul>
    );
  if (typeof value === "object" && value !== null)
    return Object.keys(value).length === 0 ? (
      <None />
    ) : (
      <ul>
        {Object.entries(value).map(([name, one]) => (
          <li key={name} className="mono break-all">
            {name} = {one}
          </li>
        ))}
      </ul>
    );
  if (field.kind === "choice")
    return (
      <>
        {field.choices.find(([word]) => word === (value ?? ""))?.[1] ??
          (value === "" || value === null ? <None /> : String(value))}
      </>
    );
  if (value === "" || value === null) return <None />;
  return (
    <span
      className={
        (field.kind === "text" || field.kind === "area") && field.mono
          ? "mono break-all whitespace-pre-wrap"
          : "whitespace-pre-wrap"
      }
    >
      {String(value)}
    </span>
  );
}

function None() {
  return <span className="text-faint">none</span>;
}
