import { Copy } from "./basics";

/** A text to copy as a file, folded. */
export function Code({ name, text }: { name: string; text: string }) {
  return (
    <details className="mt-3 rounded border border-hair">
      <summary className="flex cursor-pointer items-center justify-between gap-2 px-3 py-1.5"><span className="mono">{name}</span><Copy text={text} what={name} /></summary>
      <pre tabIndex={0} className="overflow-x-auto border-t border-hair bg-shade px-3 py-2">{text}</pre>
    </details>
  );
}
