// What a setup file or a document changes, or would change: one thing a line, its members beneath.
import type { SetupStep } from "../api/answers";
import { Mark } from "./mark";

export function wouldChange(steps: SetupStep[]): string {
  return steps.length === 0
    ? "Nothing would change"
    : `${steps.length} ${steps.length === 1 ? "thing would" : "things would"} change`;
}

export function Differences({ of }: { of: SetupStep[] }) {
  return (
    <ul className="max-h-[50vh] overflow-y-auto">
      {of.map((step) => (
        <li key={step.verb + step.what} className="border-b border-hair py-1.5 last:border-b-0">
          <p className="flex items-start gap-2">
            <Mark verdict={step.verb === "removed" ? "refused" : step.verb === "added" ? "admitted" : "waiting"} />
            <span>
              <span className="font-medium">{step.verb}</span>: {step.what}
            </span>
          </p>
          {step.members.length > 0 && (
            <ul className="mono mt-1 ml-6 text-[0.8125rem]">
              {step.members.map((it) => (
                <li key={it.member} className="break-all">
                  {it.member}: <span className="text-rust line-through">{it.before}</span> {it.after}
                </li>
              ))}
            </ul>
          )}
        </li>
      ))}
    </ul>
  );
}
