// The small things that every page is made of.
import { type ButtonHTMLAttributes, type ReactNode, useState } from "react";
import { Link, type LinkProps, useParams } from "react-router";
import type { Loaded } from "../api/reading";
import type { Refused } from "../api/http";
import { Mark } from "./mark";

type Kind = "act" | "plain" | "danger";
const kinds: Record<Kind, string> = {
  act: "border-accent bg-accent text-on-accent enabled:hover:brightness-110",
  plain: "border-faint bg-raised text-ink enabled:hover:bg-shade",
  danger: "border-rust bg-raised text-rust enabled:hover:bg-rust-shade",
};
const buttonClass =
  "inline-flex items-center justify-center gap-1.5 rounded " +
  "border px-3 py-1 font-medium no-underline disabled:opacity-55";

export function Button({
  kind = "plain",
  className = "",
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Kind }) {
  return <button type="button" {...rest} className={`${buttonClass} ${kinds[kind]} ${className}`} />;
}

export function ButtonLink({ kind = "plain", className = "", ...rest }: LinkProps & { kind?: Kind }) {
  return <Link {...rest} className={`${buttonClass} ${kinds[kind]} ${className}`} />;
}

/** Copies a text, whole and without stray spaces, and says that it did. */
export function Copy({ text, what = "it", label = "Copy" }: { text: string; what?: string; label?: string }) {
  const [copied, setCopied] = useState(false);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
    } catch {
      copyByHand(text);
    }
    setCopied(true);
    window.setTimeout(() => setCopied(false), 1_500);
  };
  return (
    <button
      type="button"
      onClick={() => void copy()}
      aria-label={`${label} ${what}`}
      className={
        "min-h-6 rounded border border-hair px-1.5 text-[0.8125rem] leading-5 " +
        "text-faint hover:bg-shade hover:text-ink"
      }
    >
      <span aria-live="polite">{copied ? "Copied" : label}</span>
    </button>
  );
}

/**
 * Where a page came by plain http from another machine, browsers keep the clipboard from scripts; selecting still
 * works.
 */
function copyByHand(text: string) {
  const area = document.createElement("textarea");
  area.value = text;
  document.body.append(area);
  area.select();
  document.execCommand("copy");
  area.remove();
}

/** Something to be typed elsewhere: in full, to be copied. */
export function Paste({ text, what, wrap = false }: { text: string; what: string; wrap?: boolean }) {
  return (
    <span className="flex min-w-0 items-start gap-2">
      <code
        className={`min-w-0 ${wrap ? "break-all whitespace-pre-wrap" : "truncate"}`}
        title={wrap ? undefined : text}
      >
        {text}
      </code>
      <Copy text={text} what={what} />
    </span>
  );
}

/** The same act as a line of the command-line client. */
export function Line({ children, what = "the command" }: { children: string; what?: string }) {
  const { issuer } = useParams();
  const line = children
    .split("; ")
    .map((command) => at(issuer, command))
    .join("; ");
  return (
    <div className="flex items-start gap-2 rounded bg-shade px-2.5 py-1.5">
      <span aria-hidden="true" className="mono text-faint select-none">
        $
      </span>
      <code className="min-w-0 flex-1 break-words whitespace-pre-wrap">{line}</code>
      <Copy text={line} what={what} />
    </div>
  );
}

/** A command with the issuer of its page named, where it is done at one: pasted elsewhere, it means the same. */
function at(issuer: string | undefined, command: string): string {
  const elsewhere =
    !issuer ||
    issuer === "~" ||
    !command.startsWith("admit ") ||
    command.includes("--issuer ") ||
    /^admit (issuer|server|service|sign-in|sign-out|completion) /.test(command);
  return elsewhere ? command : `${command} --issuer ${issuer}`;
}

/** A word for the shell, in quotes where it needs them. */
export function shell(word: string): string {
  return /^[A-Za-z0-9_./:=@,+-]+$/.test(word) ? word : `'${word.replaceAll("'", "'\\''")}'`;
}

export function Waiting({ what }: { what: string }) {
  return (
    <div role="status" className="py-6 text-faint">
      <div className="mb-2 h-0.5 w-40 overflow-hidden rounded bg-shade">
        <div className="lapping h-full w-1/2 rounded bg-accent" />
      </div>
      Reading {what}
    </div>
  );
}

export function Refusal({ of, again }: { of: Refused; again?: () => void }) {
  const { problem } = of;
  return (
    <div role="alert" className="rounded border border-rust bg-rust-shade px-4 py-3">
      <p className="flex items-start gap-2 font-semibold text-rust">
        <Mark verdict="refused" />
        {problem.title ?? "It was refused"}
      </p>
      <p className="mt-1">{problem.detail ?? problem.fix?.sentence}</p>
      {problem.fix?.who && <p className="mt-1">Who can: {problem.fix.who}.</p>}
      {problem.fix?.command && (
        <div className="mt-2">
          <Line>{problem.fix.command}</Line>
        </div>
      )}
      {again && (
        <p className="mt-2">
          <Button onClick={again}>Try again</Button>
        </p>
      )}
    </div>
  );
}

/** Takes apart what was read: waiting, refused, or there. */
export function Show<T>({
  of,
  what,
  children,
}: {
  of: Loaded<T>;
  what: string;
  children: (value: T, etag: string | null) => ReactNode;
}) {
  if (of.state === "loading") return <Waiting what={what} />;
  if (of.state === "refused")
    return of.refusal.status === 404 ? (
      <>
        <Head title={of.refusal.problem.title ?? "It is not here"} />
        <Refusal of={of.refusal} />
      </>
    ) : (
      <Refusal of={of.refusal} />
    );
  return <>{children(of.value, of.etag)}</>;
}

export function Empty({ title, children, act }: { title: string; children?: ReactNode; act?: ReactNode }) {
  return (
    <div className="rounded border border-dashed border-faint px-6 py-8 text-center">
      <p className="font-semibold">{title}</p>
      {children && <div className="mx-auto mt-1 max-w-prose text-faint">{children}</div>}
      {act && <div className="mt-4 flex justify-center gap-2">{act}</div>}
    </div>
  );
}

/** The head of a page: what it is, whether it is right, what comes next. */
export function Head({
  title,
  what,
  children,
  next,
}: {
  title: string;
  what?: ReactNode;
  children?: ReactNode;
  next?: ReactNode;
}) {
  return (
    <header className="mb-5 flex flex-wrap items-start justify-between gap-x-6 gap-y-3">
      <div className="min-w-0">
        <title>{`${title} – Admit`}</title>
        <h1>{title}</h1>
        {what && <div className="mt-0.5 text-faint">{what}</div>}
        {children && <div className="mt-2 flex flex-wrap gap-x-4 gap-y-1">{children}</div>}
      </div>
      {next && <div className="flex flex-wrap gap-2">{next}</div>}
    </header>
  );
}

export function Section({
  title,
  act,
  children,
  id,
}: {
  title: string;
  act?: ReactNode;
  children: ReactNode;
  id?: string;
}) {
  const named = id ?? title.toLowerCase().replaceAll(/[^a-z]+/g, "-");
  return (
    <section aria-labelledby={named} className="border-t border-hair py-5 first-of-type:border-t-0 first-of-type:pt-0">
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h2 id={named}>{title}</h2>
        {act}
      </div>
      {children}
    </section>
  );
}

/** One column of sections, with a rail beside it that says in sentences what is in force. */
export function WithRail({ rail, children }: { rail: ReactNode; children: ReactNode }) {
  return (
    <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_19rem]">
      <div className="min-w-0">{children}</div>
      <aside
        aria-label="What this means"
        className="h-fit rounded border border-hair bg-raised px-4 py-3 lg:sticky lg:top-16"
      >
        <h2 className="mb-2">What this means</h2>
        {rail}
      </aside>
    </div>
  );
}

export function Sentences({ of, none }: { of: string[]; none?: string }) {
  if (of.length === 0) return none ? <p className="text-faint">{none}</p> : null;
  return (
    <ul className="flex flex-col gap-1.5 [overflow-wrap:anywhere]">
      {of.map((sentence) => (
        <li key={sentence}>{sentence}</li>
      ))}
    </ul>
  );
}

export function Facts({ of }: { of: [string, ReactNode][] }) {
  return (
    <dl className="grid grid-cols-1 gap-x-6 gap-y-1.5 sm:grid-cols-[11rem_minmax(0,1fr)]">
      {of.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-faint">{name}</dt>
          <dd className="mb-1 min-w-0 break-words sm:mb-0">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

export function Tag({ children, tone = "plain" }: { children: string; tone?: "plain" | "weak" | "accent" }) {
  const tones = { plain: "border-hair text-faint", weak: "border-rust text-rust", accent: "border-accent text-accent" };
  return (
    <span className={`inline-block rounded border px-1.5 text-[0.8125rem] leading-5 ${tones[tone]}`}>{children}</span>
  );
}
