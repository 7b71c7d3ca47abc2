// What was done, step by step, and which step did not go well.
import type { Steps as StepsShape } from "../api/answers";
import { Mark } from "./mark";

export function Steps({ of }: { of: StepsShape }) {
  return (
    <ol className="mt-3 flex flex-col gap-1.5" aria-live="polite">
      {of.steps.map((it) => (
        <li key={it.step} className="flex items-start gap-2">
          <Mark verdict={it.good ? "admitted" : "refused"} />
          <span>
            <span className="font-medium">{it.step}</span>: {it.said}
            {it.good ? "" : " (it did not go well)"}
          </span>
        </li>
      ))}
    </ol>
  );
}
