// A secret, shown this one time, with what to paste.
import type * as v from "valibot";
import type { SecretOnce } from "../api/answers";
import { Button, Copy } from "./basics";
import { Window } from "./dialogs";

export function SecretShown({ of, onClose }: { of: v.InferOutput<typeof SecretOnce>; onClose: () => void }) {
  const lines: [string, string | null][] = [
    ["The secret", of.secret],
    ["Authorization header", of.authorization],
    ["curl", of.curl],
    [".env", of.env],
    ...Object.entries(of.code),
  ];
  const download = () => {
    const link = document.createElement("a");
    link.href = "data:text/plain;charset=utf-8," + encodeURIComponent((of.env ?? of.secret) + "\n");
    link.download = "client.env";
    link.click();
  };
  return (
    <Window
      open
      wide
      onClose={onClose}
      title="The secret is shown this one time"
      what="Admit keeps a hash of it, and can never show it again. Copy it now."
    >
      <dl className="flex flex-col gap-3">
        {lines
          .filter(([, text]) => text)
          .map(([name, text]) => (
            <div key={name}>
              <dt className="flex items-center justify-between gap-2 text-faint">
                <span>{name}</span>
                <Copy text={text ?? ""} what={name} />
              </dt>
              <dd>
                <pre
                  tabIndex={0}
                  className="max-h-44 overflow-auto rounded bg-shade px-2.5 py-1.5 break-all whitespace-pre-wrap"
                >
                  {text}
                </pre>
              </dd>
            </div>
          ))}
      </dl>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={download}>Download as .env</Button>
        <Button kind="act" onClick={onClose}>
          Done
        </Button>
      </div>
    </Window>
  );
}
