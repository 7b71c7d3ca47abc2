// While one types: what would be in force, as the service says it. Nothing is saved.
import { Preview } from "../api/answers";
import { usePreview } from "../api/reading";
import { Sentences } from "./basics";

/** @param draft null while there is nothing to ask about; nothing shows while it cannot be read yet */
export function Meaning({ path, draft }: { path: string; draft: Record<string, unknown> | null }) {
  const meant = usePreview(Preview, path, draft);
  return (
    meant && (
      <section aria-label="What this means" className="mt-4 rounded bg-shade px-3 py-2">
        <h2 className="mb-1">What this means</h2>
        <Sentences of={meant.sentences} />
        {meant.missing.length > 0 && (
          <>
            <h3 className="mt-3 mb-1 text-ochre-ink">What it will lack</h3>
            <Sentences of={meant.missing} />
          </>
        )}
      </section>
    )
  );
}
