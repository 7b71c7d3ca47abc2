import { Copy } from "./basics";

/** A text to copy as a file, folded. The button to copy stands beside what folds: one control inside another reaches nobody by keyboard. */
export function Code({ name, text }: { name: string; text: string }) {
  return (
    <div className="relative mt-3 rounded border border-hair">
      <details>
        <summary className="mono cursor-pointer py-1.5 pr-24 pl-3">{name}</summary>
        <pre tabIndex={0} className="overflow-x-auto border-t border-hair bg-shade px-3 py-2">{text}</pre>
      </details>
      <div className="absolute top-1.5 right-3"><Copy text={text} what={name} /></div>
    </div>
  );
}
