// Forms are described, not written: a list of members, each with its words, its control and its option on the command
// line.
import { type ReactNode, useId, useState } from "react";
import type { Fault } from "../api/answers";
import type { Refused } from "../api/http";
import { Button, Line, Refusal, shell } from "./basics";

export type Value = string | number | boolean | null | string[] | Record<string, string>;
export type Values = Record<string, Value>;
type Common = {
  name: string;
  label: string;
  help?: string;
  cli?: string;
  when?: (values: Values) => boolean;
  wide?: boolean;
  /** Said with a change, and not a part of the thing. */ editOnly?: boolean;
  /** Folded away under this name until it is wanted. */ section?: string;
};
export type Field = Common &
  (
    | {
        kind: "text";
        placeholder?: string;
        mono?: boolean;
        required?: boolean;
        secret?: boolean;
        autoComplete?: string;
      }
    | {
        kind: "area";
        rows?: number;
        mono?: boolean;
        /** Its text is JSON, and goes as what it says. */ json?: boolean;
        /** Files that it can be read from. */ opens?: string;
      }
    | { kind: "number"; min?: number }
    | { kind: "choice"; choices: [string, string][] }
    | { kind: "flag"; words: string; cliStyle?: "value" | "negatable" | "switch" }
    | { kind: "lines"; placeholder?: string; cliRepeat?: boolean }
    | { kind: "pairs"; placeholder?: string }
    | {
        kind: "several";
        choices: [string, string][];
        /** Those of them that fit what else was chosen. */ fitting?: (values: Values, word: string) => boolean;
        none?: string;
      }
  );

/** The members whose values differ, as the API takes them: `/people/accent` lies in `people`. */
export function body(fields: Field[], values: Values, before: Values | null): Record<string, unknown> {
  const all: Record<string, unknown> = {};
  for (const field of fields) {
    if (field.when && !field.when(values)) continue;
    const value = values[field.name];
    if (value === undefined || (before && same(value, before[field.name]))) continue;
    if (!before && (value === "" || value === null)) continue;
    put(
      all,
      field.name.split("/"),
      field.kind === "area" && field.json && typeof value === "string" ? parsed(value) : value,
    );
  }
  return all;
}

/** What is no JSON goes as it is: the service says what it expected. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}

/** What some members are, all of them, as the API takes them; an empty one too, which takes away. */
export function members(fields: Field[], values: Values): Record<string, unknown> {
  const all: Record<string, unknown> = {};
  for (const field of fields) put(all, field.name.split("/"), values[field.name] ?? "");
  return all;
}

/** Members that hold pairs, as a merge patch has them: a pair that was there and is to go is null. */
export function asMergePatch(
  fields: Field[],
  members: Record<string, unknown>,
  against: Values,
): Record<string, unknown> {
  const patch = { ...members };
  for (const field of fields) {
    const wanted = patch[field.name];
    const there = against[field.name];
    if (
      field.kind !== "pairs" ||
      typeof wanted !== "object" ||
      wanted === null ||
      typeof there !== "object" ||
      there === null
    )
      continue;
    patch[field.name] = { ...Object.fromEntries(Object.keys(there).map((name) => [name, null])), ...wanted };
  }
  return patch;
}

function put(into: Record<string, unknown>, parts: string[], value: unknown) {
  const [first, ...rest] = parts;
  if (first === undefined) return;
  if (rest.length === 0) {
    into[first] = value;
    return;
  }
  const there = into[first];
  const inner: Record<string, unknown> =
    typeof there === "object" && there !== null && !Array.isArray(there) ? { ...there } : {};
  put(inner, rest, value);
  into[first] = inner;
}

export function same(one: Value | undefined, other: Value | undefined): boolean {
  return JSON.stringify(one ?? "") === JSON.stringify(other ?? "");
}

/** What a new thing has anyway: the command line need not say it. */
function isNothing(value: Value): boolean {
  return (
    value === "" || value === false || (typeof value === "object" && value !== null && Object.keys(value).length === 0)
  );
}

/** The options of the command line that say the same. */
export function options(fields: Field[], values: Values, before: Values | null): string {
  const words: string[] = [];
  for (const field of fields) {
    const value = values[field.name];
    if (
      !field.cli ||
      value === undefined ||
      value === null ||
      (field.when && !field.when(values)) ||
      (before ? same(value, before[field.name]) : isNothing(value))
    )
      continue;
    if (field.kind === "flag") {
      const style = field.cliStyle ?? "value";
      words.push(
        style === "value"
          ? `${field.cli} ${String(value)}`
          : value
            ? field.cli
            : style === "negatable"
              ? field.cli.replace("--", "--no-")
              : "",
      );
    } else if (Array.isArray(value))
      words.push(...(value.length === 0 ? [`${field.cli} ''`] : value.map((one) => `${field.cli} ${shell(one)}`)));
    else if (typeof value === "object")
      words.push(...Object.entries(value).map(([name, one]) => `${field.cli} ${shell(`${name}=${one}`)}`));
    else words.push(`${field.cli} ${shell(String(value))}`);
  }
  return words.filter((word) => word !== "").join(" ");
}

export type FormProps = {
  fields: Field[];
  start: Values;
  /** What was there before, where this changes something; only what differs is sent. */
  before?: Values | null;
  submit: string;
  onSubmit: (body: Record<string, unknown>, values: Values) => Promise<Refused | null>;
  onCancel?: () => void;
  /** The beginning of the same act on the command line; `{name}` stands for a member. */
  cli?: (values: Values) => string;
  children?: (values: Values, body: Record<string, unknown>) => ReactNode;
  /** Members that stand in the command by position, not as options. */
  note?: ReactNode;
};

export function Form({ fields, start, before = null, submit, onSubmit, onCancel, cli, children, note }: FormProps) {
  const [values, setValues] = useState<Values>(start);
  const [refusal, setRefusal] = useState<Refused | null>(null);
  const [busy, setBusy] = useState(false);
  const [sent, setSent] = useState(false); // what was sent is there by now: there is nothing to preview
  const shown = fields.filter((field) => !field.when || field.when(values));
  const faults = refusal?.problem.faults ?? [];
  const elsewhere = faults.filter((fault) => !shown.some((field) => isOf(fault, field)));
  const run = async () => {
    setBusy(true);
    setRefusal(null);
    const refused = await onSubmit(body(fields, values, before), values);
    setBusy(false);
    setSent(refused === null);
    setRefusal(refused);
  };
  const sections = [...new Set(shown.flatMap((field) => field.section ?? []))];
  const first = shown.findIndex((field) => field.section);
  const grid = (some: Field[]) => (
    <div className="grid gap-x-6 gap-y-4 sm:grid-cols-2">
      {some.map((field) => (
        <Control
          key={field.name}
          field={field}
          values={values}
          value={values[field.name] ?? ""}
          fault={faults.find((fault) => isOf(fault, field)) ?? null}
          onChange={(value) => setValues((all) => ({ ...all, [field.name]: value }))}
        />
      ))}
    </div>
  );
  const line = cli ? `${cli(values)} ${options(shown, values, before)}`.trim() : null;
  return (
    <form
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void run();
      }}
    >
      {note}
      {grid(sections.length === 0 ? shown : shown.slice(0, first).filter((field) => !field.section))}
      {sections.map((name) => {
        const theirs = shown.filter((field) => field.section === name);
        const faulty = theirs.some((field) => faults.some((fault) => isOf(fault, field)));
        return (
          <details key={name} open={faulty || undefined} className="mt-3 rounded border border-hair">
            <summary className="cursor-pointer truncate px-3 py-2">
              <span className="font-semibold">{name}</span>{" "}
              <span className="text-faint">
                {held(theirs, values) || `Nothing yet of: ${theirs.map((it) => it.label).join(" · ")}`}
              </span>
            </summary>
            <div className="px-3 pt-1 pb-3">{grid(theirs)}</div>
          </details>
        );
      })}
      {sections.length > 0 && <div className="mt-4">{grid(shown.slice(first).filter((field) => !field.section))}</div>}
      {children?.(values, busy || sent ? {} : body(fields, values, before))}
      {refusal && (elsewhere.length > 0 || faults.length === 0) && (
        <div className="mt-4">
          {faults.length === 0 ? (
            <Refusal of={refusal} />
          ) : (
            elsewhere.map((fault) => (
              <p key={fault.pointer} role="alert" className="text-rust">
                {fault.pointer}: {sentence(fault)}
              </p>
            ))
          )}
        </div>
      )}
      <div className="mt-4 flex flex-wrap items-center gap-2">
        <Button kind="act" type="submit" disabled={busy}>
          {busy ? "Working…" : submit}
        </Button>
        {onCancel && <Button onClick={onCancel}>Cancel</Button>}
      </div>
      {line && (
        <div className="mt-3">
          <p className="mb-1 text-[0.8125rem] text-faint">The same on the command line</p>
          <Line>{line}</Line>
        </div>
      )}
    </form>
  );
}

/** What a folded section holds, in one line. */
function held(fields: Field[], values: Values): string {
  return fields
    .flatMap((field) => {
      const value = values[field.name];
      if (value === undefined || value === null || isNothing(value)) return [];
      if (field.kind === "flag") return [field.label];
      if (Array.isArray(value)) return [`${field.label}: ${value.join(", ")}`];
      if (typeof value === "object") return [`${field.label}: ${Object.keys(value).join(", ")}`];
      if (field.kind === "choice")
        return [`${field.label}: ${field.choices.find(([word]) => word === value)?.[1] ?? String(value)}`];
      const text = String(value).replace(/\s+/g, " ");
      return [`${field.label}: ${text.length > 40 ? text.slice(0, 40) + "…" : text}`];
    })
    .join("; ");
}

function isOf(fault: Fault, field: Field): boolean {
  return fault.pointer === "/" + field.name || fault.pointer.startsWith("/" + field.name + "/");
}

function sentence(fault: Fault): string {
  return `Expected ${fault.expected ?? "something else"}; received ${fault.received ?? "this"}. ${fault.fix ?? ""}`;
}

function Control({
  field,
  value,
  values,
  fault,
  onChange,
}: {
  field: Field;
  value: Value;
  values: Values;
  fault: Fault | null;
  onChange: (value: Value) => void;
}) {
  const id = useId();
  const described =
    [field.help ? `${id}-help` : "", fault ? `${id}-fault` : ""].filter((it) => it !== "").join(" ") || undefined;
  const common = { id, "aria-describedby": described, "aria-invalid": fault ? true : undefined } as const;
  const wide =
    field.wide || field.kind === "area" || field.kind === "lines" || field.kind === "pairs" || field.kind === "several";
  const label = (
    <label htmlFor={field.kind === "several" ? undefined : id} id={`${id}-label`} className="mb-1 block font-medium">
      {field.label}
    </label>
  );
  return (
    <div className={wide ? "sm:col-span-2" : ""}>
      {field.kind !== "flag" && label}
      {(() => {
        switch (field.kind) {
          case "text":
            return (
              <input
                {...common}
                className={`field ${field.mono ? "mono" : ""}`}
                type={field.secret ? "password" : "text"}
                autoComplete={field.autoComplete ?? "off"}
                spellCheck={false}
                placeholder={field.placeholder}
                required={field.required}
                value={String(value ?? "")}
                onChange={(event) => onChange(event.target.value)}
              />
            );
          case "number":
            return (
              <input
                {...common}
                className="field"
                type="number"
                min={field.min ?? 0}
                value={value === null ? "" : String(value)}
                onChange={(event) => onChange(event.target.value === "" ? null : Number(event.target.value))}
              />
            );
          case "area":
            return (
              <>
                <textarea
                  {...common}
                  className={`field ${field.mono ? "mono" : ""}`}
                  rows={field.rows ?? 4}
                  spellCheck={false}
                  value={String(value ?? "")}
                  onChange={(event) => onChange(event.target.value)}
                />
                {field.opens && (
                  <input
                    type="file"
                    className="mt-1 block"
                    accept={field.opens}
                    aria-label={`Open a file: ${field.label}`}
                    onChange={(event) => void event.target.files?.[0]?.text().then(onChange)}
                  />
                )}
              </>
            );
          case "choice":
            return (
              <select
                {...common}
                className="field"
                value={String(value ?? "")}
                onChange={(event) => onChange(event.target.value)}
              >
                {field.choices.map(([word, words]) => (
                  <option key={word} value={word}>
                    {words}
                  </option>
                ))}
              </select>
            );
          case "flag":
            return (
              <label className="flex items-start gap-2">
                <input
                  {...common}
                  type="checkbox"
                  className="mt-1 size-4 accent-(--accent)"
                  checked={value === true}
                  onChange={(event) => onChange(event.target.checked)}
                />
                <span>
                  <span className="font-medium">{field.label}</span>
                  <span className="block text-faint">{field.words}</span>
                </span>
              </label>
            );
          case "lines":
            return (
              <textarea
                {...common}
                className="field mono"
                rows={Math.max(2, Array.isArray(value) ? value.length + 1 : 2)}
                spellCheck={false}
                placeholder={field.placeholder}
                value={Array.isArray(value) ? value.join("\n") : ""}
                onChange={(event) => onChange(event.target.value === "" ? [] : event.target.value.split("\n"))}
                onBlur={() =>
                  Array.isArray(value) && onChange(value.map((one) => one.trim()).filter((one) => one !== ""))
                }
              />
            );
          case "pairs":
            return (
              <Pairs
                {...common}
                placeholder={field.placeholder}
                value={typeof value === "object" && value !== null && !Array.isArray(value) ? value : {}}
                onChange={onChange}
              />
            );
          case "several": {
            const fitting = field.choices.filter(([word]) => !field.fitting || field.fitting(values, word));
            return (
              <div
                role="group"
                aria-labelledby={`${id}-label`}
                className={
                  `flex max-h-56 gap-1 overflow-y-auto rounded border border-hair bg-raised px-3 py-2 ` +
                  `${field.choices.some(([, words]) => words !== "") ? "flex-col" : "flex-wrap gap-x-5"}`
                }
              >
                {fitting.length === 0 && <span className="text-faint">{field.none ?? "There is none yet."}</span>}
                {fitting.map(([word, words]) => {
                  const chosen = Array.isArray(value) && value.includes(word);
                  return (
                    <label key={word} className="flex items-start gap-2">
                      <input
                        type="checkbox"
                        className="mt-1 size-4 accent-(--accent)"
                        checked={chosen}
                        onChange={() =>
                          onChange(
                            chosen && Array.isArray(value)
                              ? value.filter((one) => one !== word)
                              : [...(Array.isArray(value) ? value : []), word],
                          )
                        }
                      />
                      <span>
                        <code>{word}</code>
                        {words && <span className="block text-faint">{words}</span>}
                      </span>
                    </label>
                  );
                })}
              </div>
            );
          }
        }
      })()}
      {field.help && (
        <p id={`${id}-help`} className="mt-1 text-[0.8125rem] text-faint">
          {field.help}
        </p>
      )}
      {fault && (
        <p id={`${id}-fault`} role="alert" className="mt-1 text-rust">
          {sentence(fault)}
        </p>
      )}
    </div>
  );
}

/** Name and value, one pair a line, as `name = value`. */
function Pairs({
  value,
  onChange,
  placeholder,
  ...common
}: {
  id: string;
  value: Record<string, string>;
  onChange: (value: Record<string, string>) => void;
  placeholder?: string;
}) {
  const [text, setText] = useState(() =>
    Object.entries(value)
      .map(([name, one]) => `${name} = ${one}`)
      .join("\n"),
  );
  return (
    <textarea
      {...common}
      className="field mono"
      rows={Math.max(2, text.split("\n").length + 1)}
      spellCheck={false}
      placeholder={placeholder ?? "name = value"}
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        const pairs = event.target.value
          .split("\n")
          .map((line) => line.trim())
          .filter((line) => line !== "")
          .map((line) => {
            const at = line.indexOf("=");
            return at < 0 ? [line, ""] : [line.slice(0, at).trim(), line.slice(at + 1).trim()];
          });
        onChange(Object.fromEntries(pairs));
      }}
    />
  );
}
