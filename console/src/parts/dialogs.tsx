// Windows over the page: to ask, and to ask twice where something would break.
import { Dialog } from "radix-ui";
import { type ReactNode, useState } from "react";
import * as v from "valibot";
import { type Outcome, useAct } from "../api/changing";
import type { Refused } from "../api/http";
import { query } from "../api/http";
import { Button, Refusal } from "./basics";

export function Window({
  open,
  onClose,
  title,
  what,
  children,
  wide = false,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  what?: string;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={(to) => !to && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[rgb(10_14_18/0.45)]" />
        <Dialog.Content
          aria-describedby={undefined}
          className={
            `fixed top-1/2 left-1/2 z-50 max-h-[88vh] w-[calc(100vw-2rem)] -translate-x-1/2 -translate-y-1/2 ` +
            `overflow-y-auto rounded border border-hair bg-paper p-5 ${wide ? "max-w-3xl" : "max-w-xl"}`
          }
        >
          <div className="mb-3 flex items-start justify-between gap-4">
            <div>
              <Dialog.Title className="text-[1.125rem] font-semibold">{title}</Dialog.Title>
              {what && <p className="mt-0.5 text-faint">{what}</p>}
            </div>
            <Dialog.Close className="rounded border border-hair px-2 text-faint hover:bg-shade" aria-label="Close">
              ×
            </Dialog.Close>
          </div>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** A removal: asked first; what would break is said by the service, and its word has to be typed. */
export function Removal({
  label,
  title,
  explain,
  path,
  said,
  onDone,
  undo,
}: {
  label: string;
  title: string;
  explain: string;
  path: string;
  said: string;
  onDone?: () => void;
  undo?: () => Promise<void>;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button kind="danger" onClick={() => setOpen(true)}>
        {label}
      </Button>
      {open && (
        <AskedRemoval
          title={title}
          explain={explain}
          path={path}
          said={said}
          undo={undo}
          onClose={() => setOpen(false)}
          onDone={() => {
            setOpen(false);
            onDone?.();
          }}
        />
      )}
    </>
  );
}

/** What the service wants confirmed, and its word, which has to be typed. */
function Confirmation({ of, typed, onType }: { of: Refused; typed: string; onType: (typed: string) => void }) {
  return (
    <>
      <div role="alert" className="mb-3 rounded border border-rust bg-rust-shade px-4 py-3">
        <p className="font-semibold text-rust">{(of.problem.detail ?? "").replace(/ Say confirm=.*/, "")}</p>
        <ul className="mt-1 list-disc pl-5">
          {of.problem.would_break?.map((it) => (
            <li key={it}>{it}</li>
          ))}
        </ul>
      </div>
      <label className="mb-3 block">
        Type <code>{of.problem.confirm}</code> to go on
        <input
          className="field mono mt-1"
          value={typed}
          autoFocus
          autoComplete="off"
          onChange={(event) => onType(event.target.value)}
        />
      </label>
    </>
  );
}

/** A change that the service makes only when its word is typed. */
export function Confirm({
  of,
  title,
  onClose,
  onYes,
}: {
  of: Refused;
  title: string;
  onClose: () => void;
  onYes: (word: string) => Promise<void>;
}) {
  const [typed, setTyped] = useState("");
  const [busy, setBusy] = useState(false);
  const run = async () => {
    setBusy(true);
    await onYes(typed);
    setBusy(false);
  };
  return (
    <Window open onClose={onClose} title={title}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          event.stopPropagation();
          void run();
        }}
      >
        <Confirmation of={of} typed={typed} onType={setTyped} />
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button kind="danger" type="submit" disabled={busy || typed !== of.problem.confirm}>
            {busy ? "Working…" : "Change it"}
          </Button>
        </div>
      </form>
    </Window>
  );
}

function AskedRemoval({
  title,
  explain,
  path,
  said,
  undo,
  onClose,
  onDone,
}: {
  title: string;
  explain: string;
  path: string;
  said: string;
  undo?: () => Promise<void>;
  onClose: () => void;
  onDone: () => void;
}) {
  const act = useAct();
  const [asked, setAsked] = useState<Refused | null>(null);
  const [typed, setTyped] = useState("");
  const [busy, setBusy] = useState(false);
  const word = asked?.problem.confirm ?? null;
  const run = async () => {
    setBusy(true);
    const outcome: Outcome<unknown> = await act(
      v.unknown(),
      path + (word ? (path.includes("?") ? "&" : "?") + query({ confirm: word }).slice(1) : ""),
      { method: "DELETE" },
      () => ({ now: said, undo }),
    );
    setBusy(false);
    if (outcome.done) onDone();
    else setAsked(outcome.refusal);
  };
  return (
    <Window open onClose={onClose} title={title} what={explain}>
      {asked && !word && <Refusal of={asked} />}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void run();
        }}
      >
        {asked && word && <Confirmation of={asked} typed={typed} onType={setTyped} />}
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button kind="danger" type="submit" disabled={busy || (word !== null && typed !== word)}>
            {busy ? "Working…" : "Remove"}
          </Button>
        </div>
      </form>
    </Window>
  );
}

/** A button for an act that wants a moment's thought but can be named in a sentence. */
export function Sure({
  label,
  title,
  explain,
  kind = "danger",
  onYes,
  yes,
}: {
  label: string;
  title: string;
  explain: string;
  kind?: "danger" | "plain" | "act";
  yes: string;
  onYes: () => Promise<Refused | null>;
}) {
  const [open, setOpen] = useState(false);
  const [refusal, setRefusal] = useState<Refused | null>(null);
  const [busy, setBusy] = useState(false);
  const run = async () => {
    setBusy(true);
    const refused = await onYes();
    setBusy(false);
    setRefusal(refused);
    if (!refused) setOpen(false);
  };
  return (
    <>
      <Button
        kind={kind}
        onClick={() => {
          setRefusal(null);
          setOpen(true);
        }}
      >
        {label}
      </Button>
      <Window open={open} onClose={() => setOpen(false)} title={title} what={explain}>
        {refusal && <Refusal of={refusal} />}
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={() => setOpen(false)}>Leave it</Button>
          <Button kind={kind === "plain" ? "act" : kind} disabled={busy} onClick={() => void run()}>
            {busy ? "Working…" : yes}
          </Button>
        </div>
      </Window>
    </>
  );
}
