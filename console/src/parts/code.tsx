import { Copy } from "./basics";

/**
 * A text to copy as a file, folded. The button to copy stands beside what folds, and not upon it: each can be reached
 * and hit alone.
 */
export function Code({ name, text }: { name: string; text: string }) {
  return (
    <div className="mt-3 flex items-start rounded border border-hair">
      <details className="min-w-0 flex-1">
        <summary className="mono cursor-pointer py-1.5 pl-3">{name}</summary>
        <pre tabIndex={0} className="overflow-x-auto border-t border-hair bg-shade px-3 py-2">
          {text}
        </pre>
      </details>
      <div className="shrink-0 px-3 py-1.5">
        <Copy text={text} what={name} />
      </div>
    </div>
  );
}
