// Things as the admin API answers them; each test names what it is about.
import type { AccessMap, Route, Scope } from "../src/api/answers";

export function route(members: Partial<Route> = {}): Route {
  return {
    id: "rt_1",
    methods: ["GET"],
    path: "/tides/**",
    api: "tides",
    scopes: ["tides.read"],
    mode: "all-of",
    open: false,
    any_scope: false,
    upstream: null,
    fixed_response: null,
    cors: false,
    who: null,
    transform: null,
    timeouts: null,
    limits: null,
    sentences: [],
    version: 1,
    created_at: "2026-11-01T08:00:00Z",
    ...members,
  };
}

export function scope(name: string, members: Partial<Scope> = {}): Scope {
  return {
    id: "sc_" + name,
    name,
    api: name.split(".")[0] ?? "",
    effect: "reads",
    reach: "everyone",
    for: "both",
    consequence: `reads ${name}`,
    consequence_reads: { person: `reads ${name}`, administrator: `reads ${name}` },
    approver: "administrator",
    by_role: false,
    status: "in-use",
    closes_on: null,
    listed: true,
    standing_approval: null,
    version: 1,
    ...members,
  };
}

export function accessMap(members: Partial<AccessMap> = {}): AccessMap {
  return {
    callers: [],
    scopes: [],
    routes: [],
    traffic: [],
    unknown: [],
    clients: 0,
    together: false,
    since: "2026-11-01T08:00:00Z",
    ...members,
  };
}

export const who = {
  issuers: null,
  for: null,
  clients: null,
  roles: null,
  max_age: null,
  acr: null,
  condition: null,
  sign_in: null,
  subscription: null,
};
