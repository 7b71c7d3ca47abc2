// Words that several pages choose among, each with what it means.
import type { Route } from "../api/shapes";

export const KINDS: [string, string][] = [
  ["service", "service: a program with no person"],
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
export const HOLDERS: [string, string][] = [
  ["people", "people, through a client"],
  ["clients", "clients on their own"],
  ["both", "both, under one name"],
];
export const APPROVERS: [string, string][] = [
  ["person", "the person"],
  ["administrator", "an administrator"],
];
export const LIVES: [string, string][] = [
  ["draft", "draft: never given"],
  ["in-use", "in use"],
  ["closing", "closing on a date"],
];
export const FORMATS: [string, string][] = [
  ["jwt", "JWT: checked anywhere"],
  ["opaque", "opaque: means nothing outside"],
];
export const RUNNING: [string, string][] = [
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
  return `${route.methods.length === 0 ? "ANY" : route.methods.join(",")} ${route.path}`;
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
  if (who?.bearer === "people") said.push("Only on a person's behalf.");
  if (who?.bearer === "clients") said.push("Only clients on their own.");
  if (who && who.clients.length > 0) said.push(`Only ${joined(who.clients, "or")}.`);
  if (who && who.roles.length > 0) said.push(`Only people with the role ${joined(who.roles, "or")}.`);
  if (who?.signed_in_within) said.push(`The person signed in within the last ${who.signed_in_within}.`);
  if (who?.strength) said.push(`The sign-in was as strong as ${who.strength}.`);
  if (who?.when) said.push("A condition on the request has to be met.");
  if (who && who.issuers.length > 0) said.push(`Tokens of ${joined(who.issuers)} are taken.`);
  if (who?.sign_in) said.push(`Browsers without a token are signed in as ${who.sign_in}.`);
  for (const rate of route.limits?.rates ?? []) said.push(`At most ${rate}.`);
  for (const quota of route.limits?.quotas ?? []) said.push(`At most ${quota}.`);
  if (route.limits?.at_once) said.push(`At most ${route.limits.at_once} at once.`);
  if (route.answer) said.push(`The gateway answers by itself, with ${route.answer.status ?? 200}.`);
  else
    said.push(
      `What passes goes to ${route.upstream ?? "the API's upstream"}` +
        `${route.shaping?.path ? `, as ${route.shaping.path}` : ""}.`,
    );
  if (route.shaping?.credential) said.push(`The gateway presents ${route.shaping.credential} there.`);
  return said;
}
