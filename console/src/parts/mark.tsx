// A verdict by shape and colour; the word stands beside it, always.
export type Verdict = "admitted" | "refused" | "waiting" | "ended";

export function Mark({ verdict, size = 12 }: { verdict: Verdict; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 12 12"
      aria-hidden="true"
      className="mt-[0.3em] inline-block shrink-0 align-baseline"
    >
      {verdict === "admitted" && <circle cx="6" cy="6" r="5" fill="var(--accent)" />}
      {verdict === "refused" && (
        <>
          <rect x="1" y="1" width="10" height="10" fill="none" stroke="var(--rust)" strokeWidth="1.6" />
          <path d="M3 6h6" stroke="var(--rust)" strokeWidth="1.8" />
        </>
      )}
      {verdict === "waiting" && (
        <>
          <circle cx="6" cy="6" r="4.6" fill="none" stroke="var(--ochre)" strokeWidth="1.5" />
          <path d="M6 1.4a4.6 4.6 0 0 0 0 9.2z" fill="var(--ochre)" />
        </>
      )}
      {verdict === "ended" && (
        <circle cx="6" cy="6" r="4.6" fill="none" stroke="var(--faint)" strokeWidth="1.4" strokeDasharray="2 2" />
      )}
    </svg>
  );
}

const inkOf: Record<Verdict, string> = {
  admitted: "text-accent",
  refused: "text-rust",
  waiting: "text-ochre-ink",
  ended: "text-faint",
};

export function Told({ verdict, children }: { verdict: Verdict; children: string }) {
  return (
    <span className={`inline-flex items-start gap-1.5 ${inkOf[verdict]}`}>
      <Mark verdict={verdict} />
      <span>{children}</span>
    </span>
  );
}

/** How the state of a request, a key or a scope reads as a verdict. */
export function verdictOf(word: string): Verdict {
  switch (word) {
    case "granted":
    case "admitted":
    case "active":
    case "in-use":
    case "on":
    case "upcoming":
      return "admitted";
    case "waiting":
    case "paused":
    case "draft":
    case "closing":
    case "retiring":
      return "waiting";
    case "refused":
    case "declined":
    case "removed":
      return "refused";
    default:
      return "ended";
  }
}
