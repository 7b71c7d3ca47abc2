// Words that several pages choose among, each with what it means.
import type { Route } from "../api/answers";
import { shell } from "./basics";

export const KINDS: [string, string][] = [
  ["machine", "machine: a program with no person"],
  ["web", "web: an application with a server"],
  ["browser", "browser: a page without a server of its own"],
  ["native", "native: installed on a person's machine"],
  ["device", "device: without a browser"],
];
export const EFFECTS: [string, string][] = [
  ["reads", "reads"],
  ["changes", "changes"],
  ["both", "reads and changes"],
];
export const REACHES: [string, string][] = [
  ["own", "the caller's own things"],
  ["everyone", "everyone's things"],
];
export const FOR: [string, string][] = [
  ["people", "people, through a client"],
  ["clients", "clients on their own"],
  ["both", "both, under one name"],
];
export const APPROVERS: [string, string][] = [
  ["person", "the person"],
  ["administrator", "an administrator"],
];
export const STATUSES: [string, string][] = [
  ["draft", "draft: never granted"],
  ["in-use", "in use"],
  ["closing", "closing on a date"],
];
export const FORMATS: [string, string][] = [
  ["jwt", "JWT: checked anywhere"],
  ["opaque", "opaque: means nothing outside"],
];
export const ADMIN_ROLES: [string, string][] = [
  ["", "does not run Admit"],
  ["auditor", "auditor: sees"],
  ["operator", "operator: sees and changes"],
  ["administrator", "administrator: approves as well, and says who runs Admit"],
];
export const METHODS: [string, string][] = [
  ["GET", ""],
  ["POST", ""],
  ["PUT", ""],
  ["PATCH", ""],
  ["DELETE", ""],
  ["OPTIONS", ""],
];

/** As decisions and the command line name it. */
export function routeLabel(route: Pick<Route, "methods" | "path">): string {
  return route.methods.length === 0 ? route.path : `${route.methods.join(",")} ${route.path}`;
}

/** The same in a command line. */
export function routeWords(methods: string[], path: string): string {
  return methods.length === 0 ? shell(path) : `${methods.join(",")} ${shell(path)}`;
}

export function joined(words: string[], by = "and"): string {
  if (words.length < 2) return words.join("");
  return `${words.slice(0, -1).join(", ")} ${by} ${words.at(-1) ?? ""}`;
}
