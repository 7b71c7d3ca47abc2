// Changing what is there: told at once, taken back when it was refused, and never over another person's change unseen.
import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import * as v from "valibot";
import { useSay } from "../parts/said";
import { type Answered, type Asking, Refused, ask, asRefused, query } from "./http";
import { keyOf } from "./reading";

export type Outcome<T> = { done: true; value: T; etag: string | null } | { done: false; refusal: Refused };

/** Runs one act, says what is now true, and has everything of the issuer read anew. */
export function useAct(): <T extends v.GenericSchema>(
  shape: T,
  path: string,
  asking: Asking,
  said?: (value: v.InferOutput<T>) => { now: string; undo?: () => Promise<void> } | null,
) => Promise<Outcome<v.InferOutput<T>>> {
  const client = useQueryClient();
  const say = useSay();
  return useCallback(
    async (shape, path, asking, said) => {
      try {
        const answered = await ask(shape, path, asking);
        await client.invalidateQueries({ queryKey: keyOf(path).slice(0, 2) });
        await client.invalidateQueries({ queryKey: ["issuer", "~"] });
        const words = said?.(answered.value);
        if (words) say({ tone: "done", text: words.now, notes: notesOf(answered.value), undo: words.undo });
        return { done: true, value: answered.value, etag: answered.etag };
      } catch (error) {
        return { done: false, refusal: asRefused(error) };
      }
    },
    [client, say],
  );
}

function notesOf(value: unknown): string[] {
  const read = v.safeParse(v.object({ notes: v.array(v.string()) }), value);
  return read.success ? read.output.notes : [];
}

export type Conflict<T> = { theirs: T; etag: string | null };
export type Patched<T> =
  { done: true; value: T } | { done: false; refusal: Refused } | { done: false; conflict: Conflict<T> };

/**
 * Changes a thing that lies at an address: shown as if it were done while it is under way; put back when it was
 * refused. When a person
 * else was faster, what they made of it comes back instead, so that the one who changes it decides.
 */
export function usePatch<T extends v.GenericSchema>(
  shape: T,
  answer: v.GenericSchema<unknown, { now: v.InferOutput<T>; notes: string[] }>,
  path: string,
): (
  members: Record<string, unknown>,
  etag: string | null,
  said: string,
  undo?: Record<string, unknown>,
  method?: "PATCH" | "PUT",
  why?: string,
  confirm?: string,
) => Promise<Patched<v.InferOutput<T>>> {
  const client = useQueryClient();
  const say = useSay();
  return useCallback(
    async (members, etag, said, undo, method = "PATCH", why, confirm) => {
      const key = keyOf(path);
      const before = client.getQueryData<Answered<v.InferOutput<T>>>(key);
      if (before && typeof before.value === "object" && before.value !== null && method === "PATCH")
        client.setQueryData(key, { ...before, value: { ...before.value, ...plainMembers(members, before.value) } });
      try {
        const got = await ask(answer, path + query({ why, confirm }), { method, body: members, ifMatch: etag });
        client.setQueryData(key, { value: got.value.now, etag: got.etag });
        void client.invalidateQueries({ queryKey: key.slice(0, 2) });
        void client.invalidateQueries({ queryKey: ["issuer", "~"] });
        const back = undo;
        say({
          tone: "done",
          text: said,
          notes: got.value.notes,
          undo: back
            ? async () => {
                await takeBack(back, got.etag, method);
              }
            : undefined,
        });
        return { done: true, value: got.value.now };
      } catch (error) {
        if (before) client.setQueryData(key, before);
        const refusal = asRefused(error);
        if (refusal.status !== 412) return { done: false, refusal };
        const theirs = await ask(shape, path);
        client.setQueryData(key, theirs);
        return { done: false, conflict: { theirs: theirs.value, etag: theirs.etag } };
      }

      /** To go back to what was a moment ago needs no second word. */
      async function confirmed(members: Record<string, unknown>, etag: string | null, method: "PATCH" | "PUT") {
        try {
          return await ask(answer, path, { method, body: members, ifMatch: etag });
        } catch (error) {
          const word = asRefused(error).problem.confirm;
          if (!word) throw error;
          return await ask(answer, path + query({ confirm: word }), { method, body: members, ifMatch: etag });
        }
      }

      async function takeBack(members: Record<string, unknown>, etag: string | null, method: "PATCH" | "PUT") {
        try {
          const got = await confirmed(members, etag, method);
          client.setQueryData(key, { value: got.value.now, etag: got.etag });
          void client.invalidateQueries({ queryKey: key.slice(0, 2) });
          say({ tone: "done", text: "Taken back." });
        } catch (error) {
          say({
            tone: "refused",
            text:
              asRefused(error).status === 412
                ? "It was changed again since, so it is not taken back."
                : asRefused(error).message,
          });
        }
      }
    },
    [answer, client, path, say, shape],
  );
}

/** Of what is changed, what the thing has in the same form; the rest is seen when the answer comes. */
function plainMembers(members: Record<string, unknown>, thing: object): Record<string, unknown> {
  const known = new Map(Object.entries(thing));
  return Object.fromEntries(
    Object.entries(members).filter(
      ([name, value]) =>
        known.has(name) &&
        typeof known.get(name) === typeof value &&
        Array.isArray(known.get(name)) === Array.isArray(value),
    ),
  );
}
