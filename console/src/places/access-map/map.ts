// From what the service tells to a picture: where each thing stands, and which lines run between them.
import type { AccessMap } from "../../api/answers";
import { routeLabel } from "../../parts/words";

export type NodeKind = "caller" | "scope" | "route";
export type Spot = { key: string; kind: NodeKind; y: number; label: string; more: string };
export type Status = "granted" | "waiting" | "ended";
export type Requested = {
  caller: string;
  scope: string;
  status: Status;
  word: string;
  admitted: number;
  refused: number;
};
export type Need = { scope: string; route: string; admitted: number; refused: number };
export type Drawn = {
  spots: Map<string, Spot>;
  callers: Spot[];
  scopes: { api: string; y: number; all: Spot[] }[];
  routes: Spot[];
  requests: Requested[];
  needs: Need[];
  strays: { caller: string; route: string; refused: number; admitted: number }[];
  height: number;
};

export const ROW = 34;
export const HEAD = 26;
export const UNKNOWN = "caller:";

export function draw(accessMap: AccessMap): Drawn {
  const spots = new Map<string, Spot>();
  const apis = [...new Set(accessMap.scopes.map((it) => it.api))];
  let y = 0;
  const scopes = apis.map((api) => {
    const top = y;
    y += HEAD;
    const all = accessMap.scopes
      .filter((it) => it.api === api)
      .map((it): Spot => {
        const spot: Spot = {
          key: "scope:" + it.name,
          kind: "scope",
          y,
          label: it.name,
          more:
            it.status === "in-use"
              ? it.consequence_reads.administrator
              : `${it.status}: ${it.consequence_reads.administrator}`,
        };
        y += ROW;
        return spot;
      });
    y += 8;
    return { api, y: top, all };
  });
  scopes.flatMap((it) => it.all).forEach((spot) => spots.set(spot.key, spot));
  const scopesHeight = y;

  // Callers and routes stand near the scopes that they have to do with, so that fewer lines cross.
  const middle = (names: string[]) => {
    const ys = names.map((name) => spots.get("scope:" + name)?.y).filter((it) => it !== undefined);
    return ys.length === 0 ? Number.MAX_SAFE_INTEGER : ys.reduce((sum, one) => sum + one, 0) / ys.length;
  };
  const callersSorted = [...accessMap.callers].sort(
    (one, other) => middle(Object.keys(one.scopes)) - middle(Object.keys(other.scopes)),
  );
  const callers = callersSorted.map((it, index): Spot => ({
    key: "caller:" + it.id,
    kind: "caller",
    y: HEAD + index * ROW,
    label: it.members === 1 ? (it.names[0] ?? it.id) : `${it.members} of kind ${it.kind}`,
    more:
      it.members === 1
        ? it.enabled
          ? it.kind
          : `${it.kind}, off`
        : it.names.join(", ") + (it.members > it.names.length ? " …" : ""),
  }));
  if (accessMap.unknown.length > 0)
    callers.push({
      key: UNKNOWN,
      kind: "caller",
      y: HEAD + callers.length * ROW,
      label: "unknown caller",
      more: "without a token, or with one that is not good",
    });
  const routesSorted = [...accessMap.routes].sort((one, other) => middle(one.scopes) - middle(other.scopes));
  const routes = routesSorted.map((it, index): Spot => ({
    key: "route:" + it.id,
    kind: "route",
    y: HEAD + index * ROW,
    label: routeLabel(it),
    more: it.open ? "open" : it.any_scope ? "any scope" : "",
  }));
  [...callers, ...routes].forEach((spot) => spots.set(spot.key, spot));

  const routeIds = new Map(accessMap.routes.map((it) => [routeLabel(it), it]));
  const requests: Requested[] = accessMap.callers.flatMap((caller) =>
    Object.entries(caller.scopes).map(([scope, word]): Requested => {
      const near = accessMap.traffic.filter(
        (it) => it.caller === caller.id && (routeIds.get(it.route)?.scopes.includes(scope) ?? false),
      );
      return {
        caller: "caller:" + caller.id,
        scope: "scope:" + scope,
        status: word === "granted" ? "granted" : word === "waiting" ? "waiting" : "ended",
        word,
        admitted: sum(near, "admitted"),
        refused: sum(near, "refused"),
      };
    }),
  );
  const needs: Need[] = accessMap.routes.flatMap((route) => {
    const near = accessMap.traffic.filter((it) => it.route === routeLabel(route));
    return route.scopes
      .filter((scope) => spots.has("scope:" + scope))
      .map((scope): Need => ({
        scope: "scope:" + scope,
        route: "route:" + route.id,
        admitted: sum(near, "admitted"),
        refused: sum(near, "refused"),
      }));
  });
  // What came without any scope in between: open routes, callers that never asked, and an unknown caller.
  const strays = [...accessMap.traffic, ...accessMap.unknown].flatMap((it) => {
    const route = routeIds.get(it.route);
    const caller = "caller:" + it.caller;
    if (!route || !spots.has(caller)) return [];
    const asked = accessMap.callers.find((one) => one.id === it.caller)?.scopes ?? {};
    return route.scopes.some((scope) => scope in asked)
      ? []
      : [{ caller, route: "route:" + route.id, refused: it.refused, admitted: it.admitted }];
  });
  return {
    spots,
    callers,
    scopes,
    routes,
    requests,
    needs,
    strays,
    height: Math.max(scopesHeight, HEAD + callers.length * ROW, HEAD + routes.length * ROW) + 8,
  };
}

function sum(all: { admitted: number; refused: number }[], of: "admitted" | "refused"): number {
  return all.reduce((total, one) => total + one[of], 0);
}

/** Everything that a chosen thing reaches, itself among it. */
export function reach(drawn: Drawn, key: string): Set<string> {
  const reached = new Set([key]);
  const kind = key.split(":")[0];
  const forth = kind === "caller" || kind === "scope";
  const back = kind === "route" || kind === "scope";
  if (kind === "caller") drawn.requests.filter((it) => it.caller === key).forEach((it) => reached.add(it.scope));
  if (back && kind === "route") drawn.needs.filter((it) => it.route === key).forEach((it) => reached.add(it.scope));
  const scopes = [...reached].filter((it) => it.startsWith("scope:"));
  if (forth) drawn.needs.filter((it) => scopes.includes(it.scope)).forEach((it) => reached.add(it.route));
  if (back) drawn.requests.filter((it) => scopes.includes(it.scope)).forEach((it) => reached.add(it.caller));
  drawn.strays
    .filter((it) => it.caller === key || it.route === key)
    .forEach((it) => {
      reached.add(it.caller);
      reached.add(it.route);
    });
  return reached;
}

/** As thick as the traffic: ten times as much is a step more. */
export function thickness(requests: number): number {
  return requests <= 0 ? 1.25 : Math.min(9, 1.5 + 1.6 * Math.log10(1 + requests));
}
