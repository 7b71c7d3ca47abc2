// One way to ask the service: same origin, the cookie stands for the person, a change brings the session's own word
// along.
import * as v from "valibot";
import { Problem } from "./answers";

export const ROOT = "/console/_";

/** The service said no, or could not be reached; `problem` has its words. */
export class Refused extends Error {
  readonly status: number;
  readonly problem: Problem;
  constructor(status: number, problem: Problem) {
    super(problem.detail ?? problem.title ?? "It was refused.");
    this.status = status;
    this.problem = problem;
  }
}

export type Answered<T> = { value: T; etag: string | null };
export type Asking = {
  method?: "GET" | "POST" | "PATCH" | "PUT" | "DELETE";
  body?: unknown;
  ifMatch?: string | null;
  signal?: AbortSignal;
};

let form = "";
/** What changes have to bring along; told once, when a person is signed in. */
export function signedInWith(word: string): void {
  form = word;
}

const listeners = new Set<() => void>();
/** Told when the service says that nobody is signed in any more. */
export function onSignedOut(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Asks the admin API; `path` begins below it, such as `/issuers/harbour/clients`. */
export function ask<T extends v.GenericSchema>(
  shape: T,
  path: string,
  asking: Asking = {},
): Promise<Answered<v.InferOutput<T>>> {
  return fetchFrom(shape, ROOT + "/api" + path, asking);
}

export async function fetchFrom<T extends v.GenericSchema>(
  shape: T,
  address: string,
  asking: Asking = {},
): Promise<Answered<v.InferOutput<T>>> {
  const headers: Record<string, string> = { Accept: "application/json" };
  if (asking.body !== undefined) headers["Content-Type"] = "application/json";
  if (asking.ifMatch) headers["If-Match"] = asking.ifMatch;
  if (asking.method && asking.method !== "GET") headers["Admit-Form"] = form;
  let answer: Response;
  try {
    answer = await fetch(address, {
      method: asking.method ?? "GET",
      headers,
      body: asking.body === undefined ? undefined : JSON.stringify(asking.body),
      credentials: "same-origin",
      signal: asking.signal,
    });
  } catch (broken) {
    if (broken instanceof DOMException && broken.name === "AbortError") throw broken;
    throw new Refused(
      0,
      problemOf({
        title: "The service cannot be reached",
        detail: "The service cannot be reached. It may be restarting; this page tries again by itself.",
        reason: "not-reachable",
      }),
    );
  }
  const text = await answer.text();
  const type = answer.headers.get("Content-Type") ?? "";
  const body: unknown = text === "" ? null : /json/.test(type) ? parsed(text) : text;
  if (!answer.ok) {
    const refused = new Refused(answer.status, problemOf(body));
    if (answer.status === 401 && refused.problem.reason === "not-signed-in")
      listeners.forEach((listener) => listener());
    throw refused;
  }
  const read = v.safeParse(shape, body);
  if (!read.success) {
    const at = read.issues[0]?.path?.map((part) => String(part.key)).join("/") ?? "";
    throw new Refused(
      0,
      problemOf({
        title: "The answer cannot be read",
        detail:
          `The service answered ${address} in a shape that this page does not ` +
          `know (at /${at}). Load the page anew: it may be older than the service.`,
        reason: "unknown-shape",
      }),
    );
  }
  return { value: read.output, etag: answer.headers.get("ETag") };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

function problemOf(body: unknown): Problem {
  const read = v.safeParse(Problem, body ?? {});
  return read.success
    ? read.output
    : v.parse(Problem, {
        title: "It failed",
        detail: "The service failed, and said no more. Its log has the rest.",
        reason: "fault",
      });
}

export function asRefused(error: unknown): Refused {
  if (error instanceof Refused) return error;
  return new Refused(
    0,
    problemOf({
      title: "This page failed",
      detail: error instanceof Error ? error.message : "This page failed.",
      reason: "fault",
    }),
  );
}

/** A path of the admin API, each part encoded. */
export function at(...parts: string[]): string {
  return parts.map((part) => "/" + encodeURIComponent(part)).join("");
}

export function ofIssuer(issuer: string, ...parts: string[]): string {
  return at("issuers", issuer, ...parts);
}

export function query(values: Record<string, string | number | boolean | null | undefined>): string {
  const said = Object.entries(values).filter(([, value]) => value !== undefined && value !== null && value !== "");
  return said.length === 0
    ? ""
    : "?" + new URLSearchParams(said.map(([name, value]) => [name, String(value)])).toString();
}
