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

/** What is in force at a route, in sentences. */
export function routeSentences(route: Route): string[] {
  const said: string[] = [];
  const what = routeLabel(route);
  if (route.open) said.push(`Anyone may call ${what}, without a token.`);
  else if (route.any_scope) said.push(`Any token for ${route.api ?? "its API"} may call ${what}, whatever its scope.`);
  else
    said.push(
      `A token for ${route.api ?? "its API"} with ${route.mode === "any-of" ? "any of " : ""}` +
        `${joined(route.scopes, route.mode === "any-of" ? "or" : "and")} may call ${what}.`,
    );
  const who = route.who;
  if (who?.for === "people") said.push("Only on a person's behalf.");
  if (who?.for === "clients") said.push("Only clients on their own.");
  if (who?.clients?.length) said.push(`Only ${joined(who.clients, "or")}.`);
  if (who?.roles?.length) said.push(`Only people with the role ${joined(who.roles, "or")}.`);
  if (who?.max_age) said.push(`The person signed in within the last ${who.max_age}.`);
  if (who?.acr) said.push(`The person signed in with acr ${who.acr}.`);
  if (who?.condition) said.push("A condition on the request has to be met.");
  if (who?.issuers?.length) said.push(`Tokens of ${joined(who.issuers)} are taken.`);
  if (who?.sign_in) said.push(`Browsers without a token are signed in as ${who.sign_in}.`);
  for (const rate of route.limits?.rates ?? []) said.push(`At most ${rate}.`);
  for (const quota of route.limits?.quotas ?? []) said.push(`At most ${quota}.`);
  if (route.limits?.concurrent) said.push(`At most ${route.limits.concurrent} concurrent requests.`);
  if (route.fixed_response) said.push(`The gateway responds by itself, with ${route.fixed_response.status ?? 200}.`);
  else
    said.push(
      `What passes goes to ${route.upstream ?? "the API's upstream"}` +
        `${route.transform?.path ? `, as ${route.transform.path}` : ""}.`,
    );
  if (route.transform?.credential) said.push(`The gateway presents ${route.transform.credential} there.`);
  return said;
}
