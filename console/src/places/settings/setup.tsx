// The issuer as one file: exported, compared with what runs, and loaded altogether or not at all.
import { useState } from "react";
import type * as v from "valibot";
import { useAct } from "../../api/changing";
import { ROOT, type Refused, asRefused, ask, fetchFrom, ofIssuer } from "../../api/http";
import { SetupOutcome, type SecretOnce, Text } from "../../api/answers";
import { useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, Copy, Line, Refusal, Section, Sentences } from "../../parts/basics";
import { Sure } from "../../parts/dialogs";
import { Differences, wouldChange } from "../../parts/differences";
import { SecretShown } from "../../parts/secret";

type Outcome = v.InferOutput<typeof SetupOutcome>;

export function SetupFile() {
  const issuer = useTarget();
  const { may } = useSession();
  const act = useAct();
  const [exported, setExported] = useState<string | null>(null);
  const [file, setFile] = useState("");
  const [stage, setStage] = useState("");
  const [removeUnlisted, setRemoveUnlisted] = useState(false);
  const [compared, setCompared] = useState<Outcome | null>(null);
  const [refused, setRefused] = useState<Refused | null>(null);
  const [made, setMade] = useState<v.InferOutput<typeof SecretOnce>[]>([]);
  const [busy, setBusy] = useState(false);
  const body = { file, stage: stage || undefined, remove_unlisted: removeUnlisted };
  const take = async () => {
    try {
      const answered = await fetchFrom(Text, ROOT + "/api" + ofIssuer(issuer, "setup"));
      setExported(answered.value);
    } catch (error) {
      setRefused(asRefused(error));
    }
  };
  const compare = async () => {
    setBusy(true);
    setRefused(null);
    try {
      setCompared((await ask(SetupOutcome, ofIssuer(issuer, "setup", "compare"), { method: "POST", body })).value);
    } catch (error) {
      setCompared(null);
      setRefused(asRefused(error));
    }
    setBusy(false);
  };
  const change = (set: (text: string) => void) => (text: string) => {
    set(text);
    setCompared(null);
  };
  return (
    <div className="max-w-4xl">
      <Section
        title={`Export ${issuer}`}
        act={
          <span className="flex gap-2">
            <Button onClick={() => void take()}>Show the file</Button>
            <a
              className={
                "rounded border border-faint bg-raised px-3 py-1 font-medium " + "text-ink no-underline hover:bg-shade"
              }
              href={`${ROOT}/api${ofIssuer(issuer, "setup")}`}
              download={`${issuer}.yaml`}
            >
              Download
            </a>
          </span>
        }
      >
        <p className="text-faint">
          Everything configurable, as YAML. Secrets are never in it, only where they come from.
        </p>
        {exported !== null && (
          <>
            <p className="mt-2 flex justify-end">
              <Copy text={exported} what="the setup file" />
            </p>
            <pre tabIndex={0} className="max-h-96 overflow-auto rounded bg-shade px-3 py-2">
              {exported}
            </pre>
          </>
        )}
        <div className="mt-3">
          <Line>{`admit setup export --issuer ${issuer} > ${issuer}.yaml`}</Line>
        </div>
      </Section>
      <Section title="Import a setup file">
        <label htmlFor="setup-file" className="mb-1 block font-medium">
          The file
        </label>
        <textarea
          id="setup-file"
          className="field mono"
          rows={10}
          spellCheck={false}
          value={file}
          onChange={(event) => change(setFile)(event.target.value)}
          placeholder={`issuer: ${issuer}`}
        />
        <p className="mt-1">
          <input
            type="file"
            accept=".yaml,.yml"
            aria-label="Open a file"
            onChange={(event) => void event.target.files?.[0]?.text().then(change(setFile))}
          />
        </p>
        <details className="mt-2">
          <summary className="cursor-pointer">Values of another stage, and what the file leaves out</summary>
          <label htmlFor="stage" className="mt-2 mb-1 block font-medium">
            The stage's file
          </label>
          <textarea
            id="stage"
            className="field mono"
            rows={4}
            spellCheck={false}
            value={stage}
            onChange={(event) => change(setStage)(event.target.value)}
          />
          <label className="mt-2 flex items-start gap-2">
            <input
              type="checkbox"
              className="mt-1 size-4 accent-(--accent)"
              checked={removeUnlisted}
              onChange={(event) => {
                setRemoveUnlisted(event.target.checked);
                setCompared(null);
              }}
            />
            <span>
              <span className="font-medium">Remove what is unlisted</span>
              <span className="block text-faint">What the issuer has and the file does not list is removed.</span>
            </span>
          </label>
        </details>
        <p className="mt-3">
          <Button kind="act" disabled={busy || file.trim() === ""} onClick={() => void compare()}>
            {busy ? "Comparing" : "Compare with what runs"}
          </Button>
        </p>
        {refused && (
          <div className="mt-3">
            <Refusal of={refused} />
            {refused.problem.faults?.map((it) => (
              <p key={it.pointer} className="mt-1 text-rust">
                <code>{it.pointer}</code>: expected {it.expected}; received {it.received}. {it.fix}
              </p>
            ))}
          </div>
        )}
        {compared && (
          <div className="mt-4" aria-live="polite">
            <h3 className="mb-2">{wouldChange(compared.steps)}</h3>
            <Differences of={compared.steps} />
            <Sentences of={compared.notes} />
            {compared.steps.length > 0 && may.runPeople && (
              <div className="mt-3">
                <Sure
                  label="Load it"
                  kind="act"
                  title={`Load this file into ${issuer}`}
                  explain={
                    `${compared.steps.length} changes, altogether or not at all. What ` +
                    `routes were before can be restored; the rest is in the audit.`
                  }
                  yes="Load it"
                  onYes={async () => {
                    const outcome = await act(
                      SetupOutcome,
                      ofIssuer(issuer, "setup", "load"),
                      { method: "POST", body },
                      (value) => ({ now: `${value.steps.length} things changed.` }),
                    );
                    if (!outcome.done) return outcome.refusal;
                    setCompared(null);
                    setMade(Object.values(outcome.value.made));
                    return null;
                  }}
                />
              </div>
            )}
          </div>
        )}
        <div className="mt-4">
          <Line>{`admit setup compare ${issuer}.yaml; admit setup load ${issuer}.yaml --confirm ${issuer}`}</Line>
        </div>
      </Section>
      {made[0] && <SecretShown of={made[0]} onClose={() => setMade((before) => before.slice(1))} />}
    </div>
  );
}
