// What changes comes from the service by itself: one open stream, and what it names is read anew.
import { useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useEffect, useRef, useState } from "react";
import * as v from "valibot";
import { ROOT } from "./http";

const Event = v.object({
  issuer: v.string(),
  what: v.array(v.string()),
  on: v.array(v.string()),
  who: v.array(v.string()),
});
export type LiveEvent = v.InferOutput<typeof Event>;
export type Connection = "connecting" | "open" | "lost";

export const LiveContext = createContext<Connection>("connecting");
export function useConnection(): Connection {
  return useContext(LiveContext);
}

const GATHER_MILLIS = 300;
const DECISIONS_MILLIS = 1_000;

/**
 * Listens while a person is signed in. After a loss everything is read anew, because nobody told what happened
 * meanwhile.
 */
export function useLive(): Connection {
  const client = useQueryClient();
  const [connection, setConnection] = useState<Connection>("connecting");
  const waiting = useRef(new Set<string>());
  const timers = useRef<{ changed?: number; decided?: number }>({});
  useEffect(() => {
    let lost = false;
    const stream = new EventSource(ROOT + "/api/live");
    stream.onopen = () => {
      if (lost) void client.invalidateQueries();
      lost = false;
      setConnection("open");
    };
    stream.onerror = () => {
      // The stream ends every two minutes and comes back within a second; only what lasts longer is a loss.
      lost = true;
      window.setTimeout(() => {
        if (stream.readyState !== EventSource.OPEN) setConnection("lost");
      }, 2_500);
    };
    stream.addEventListener("changed", (message) => {
      const read = v.safeParse(Event, parsed(message.data));
      if (!read.success) return;
      const issued = read.output.what.every((what) => what === "token.issued");
      waiting.current.add(issued ? "" : read.output.issuer);
      timers.current.changed ??= window.setTimeout(() => {
        timers.current.changed = undefined;
        for (const issuer of waiting.current) {
          if (issuer === "") continue;
          void client.invalidateQueries({ queryKey: ["issuer", issuer] });
          void client.invalidateQueries({ queryKey: ["service"] });
        }
        void client.invalidateQueries({ queryKey: ["issuer", "~"] });
        waiting.current.clear();
      }, GATHER_MILLIS);
    });
    stream.addEventListener("decided", () => {
      timers.current.decided ??= window.setTimeout(() => {
        timers.current.decided = undefined;
        void client.invalidateQueries({ queryKey: ["decisions"] });
        void client.invalidateQueries({
          predicate: (it) =>
            typeof it.queryKey[2] === "string" && /^\/(access-map|clients\/[^/]+\/watch)/.test(it.queryKey[2]),
        });
      }, DECISIONS_MILLIS);
    });
    const held = timers.current;
    return () => {
      stream.close();
      window.clearTimeout(held.changed);
      window.clearTimeout(held.decided);
    };
  }, [client]);
  return connection;
}

function parsed(text: unknown): unknown {
  try {
    return typeof text === "string" ? JSON.parse(text) : null;
  } catch {
    return null;
  }
}
