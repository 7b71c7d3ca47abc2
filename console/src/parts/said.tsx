// What was said to the user: one line for what is now true, the way to undo it, and what was refused.
import { Toast } from "radix-ui";
import { createContext, type ReactNode, useCallback, useContext, useMemo, useState } from "react";
import { Mark } from "./mark";

export type Said = { tone: "done" | "refused"; text: string; notes?: string[]; undo?: () => Promise<void> };
type Kept = Said & { id: number };

const SayContext = createContext<(said: Said) => void>(() => undefined);
export function useSay(): (said: Said) => void {
  return useContext(SayContext);
}

const MOST = 4;
let last = 0;

export function SaidProvider({ children }: { children: ReactNode }) {
  const [all, setAll] = useState<Kept[]>([]);
  const say = useCallback((said: Said) => setAll((before) => [...before, { ...said, id: ++last }].slice(-MOST)), []);
  const shown = useMemo(() => all, [all]);
  return (
    <SayContext.Provider value={say}>
      <Toast.Provider label="What was done" duration={9000} swipeDirection="right">
        {children}
        {shown.map((said) => (
          <Toast.Root
            key={said.id}
            className="flex items-start gap-3 rounded border border-hair bg-raised px-4 py-3 shadow-sm"
            onOpenChange={(open) => !open && setAll((before) => before.filter((it) => it.id !== said.id))}
          >
            <Mark verdict={said.tone === "done" ? "admitted" : "refused"} />
            <div className="min-w-0 flex-1">
              <Toast.Title className="text-ink">{said.text}</Toast.Title>
              {said.notes?.map((note) => (
                <Toast.Description key={note} className="mt-1 [overflow-wrap:anywhere] text-faint">
                  {note}
                </Toast.Description>
              ))}
            </div>
            {said.undo && (
              <Toast.Action altText="Go to what was changed, and take it back there" asChild>
                <button
                  type="button"
                  className="font-semibold text-accent underline"
                  onClick={() => void said.undo?.()}
                >
                  Undo
                </button>
              </Toast.Action>
            )}
            <Toast.Close aria-label="Close" className="px-1 text-faint">
              ×
            </Toast.Close>
          </Toast.Root>
        ))}
        <Toast.Viewport className="fixed right-4 bottom-4 z-50 flex w-96 max-w-[calc(100vw-2rem)] flex-col gap-2" />
      </Toast.Provider>
    </SayContext.Provider>
  );
}
