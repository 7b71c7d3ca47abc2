import type { Route } from "../../api/answers";
import type { Field, Values } from "../../parts/form";
import { METHODS } from "../../parts/words";

const guarded = (values: Values) => values.open !== true;
export const WHAT_FIELDS: Field[] = [
  { kind: "several", name: "methods", label: "Methods, none for any", choices: METHODS },
  {
    kind: "text",
    name: "path",
    label: "Path",
    mono: true,
    wide: true,
    placeholder: "/lighthouses/{light}/**",
    help: "{name} stands for one segment, /** at the end for the rest. It may begin with a host.",
  },
];
/** @param apiOf the API of a scope, where any API may be chosen */
export function guardFields(apis: string[], scopes: [string, string][], apiOf?: Map<string, string>): Field[] {
  return [
    {
      kind: "flag",
      name: "open",
      label: "Open",
      words: "Anyone may call it, without a token. It stays marked.",
      cli: "--open",
      cliStyle: "switch",
    },
    {
      kind: "choice",
      name: "api",
      label: "API",
      cli: "--api",
      choices: [["", "choose one"], ...apis.map((it): [string, string] => [it, it])],
      when: guarded,
    },
    {
      kind: "several",
      name: "scopes",
      label: "Scopes that are needed",
      cli: "--scope",
      choices: scopes,
      fitting: (values, word) => !apiOf || apiOf.get(word) === values.api,
      when: (values) => guarded(values) && values.any_scope !== true,
      none: "Choose an API that has scopes.",
    },
    {
      kind: "choice",
      name: "mode",
      label: "Of these",
      cli: "--any-of",
      choices: [
        ["all-of", "all of them"],
        ["any-of", "any one of them"],
      ],
      when: (values) => guarded(values) && Array.isArray(values.scopes) && values.scopes.length > 1,
    },
    {
      kind: "flag",
      name: "any_scope",
      label: "Any scope",
      words: "Any token for the API may call it, whatever its scope. It stays marked.",
      cli: "--any-scope",
      cliStyle: "switch",
      when: guarded,
    },
  ];
}
export const WHO_FIELDS: Field[] = [
  {
    kind: "choice",
    name: "who/for",
    label: "Caller",
    cli: "--for",
    choices: [
      ["", "anyone's"],
      ["people", "on a person's behalf only"],
      ["clients", "clients on their own only"],
    ],
  },
  {
    kind: "choice",
    name: "who/acr",
    label: "Sign-in strength (acr)",
    cli: "--acr",
    choices: [
      ["", "any"],
      ["urn:admit:acr:1", "one factor"],
      ["urn:admit:acr:2", "two factors"],
    ],
  },
  {
    kind: "text",
    name: "who/max_age",
    label: "Signed in at most so long ago",
    cli: "--max-age",
    placeholder: "15m",
  },
  { kind: "text", name: "who/sign_in", label: "Sign browsers in as the client", cli: "--sign-in", mono: true },
  {
    kind: "flag",
    name: "who/subscription",
    label: "Subscription",
    words: "Only clients pass that are subscribed to a plan that covers the request.",
    cli: "--subscription",
    cliStyle: "switch",
  },
  { kind: "lines", name: "who/clients", label: "Named clients only", cli: "--client" },
  { kind: "lines", name: "who/roles", label: "Roles, any of", cli: "--role" },
  {
    kind: "lines",
    name: "who/issuers",
    label: "Issuers whose tokens are taken",
    cli: "--token-issuer",
    help: "Names: this issuer's, and trusted ones. None for this one alone.",
  },
  {
    kind: "area",
    name: "who/condition",
    label: "Condition, in CEL",
    cli: "--condition",
    mono: true,
    rows: 2,
    help: "Over claims, path, method, headers and now.",
  },
];
export const TARGET_FIELDS: Field[] = [
  {
    kind: "flag",
    name: "answers",
    label: "A fixed response",
    words: "The gateway answers by itself; nothing is forwarded.",
  },
  {
    kind: "number",
    name: "fixed_response/status",
    label: "Status",
    cli: "--fixed-status",
    when: (values) => values.answers === true,
  },
  {
    kind: "text",
    name: "fixed_response/content_type",
    label: "Type",
    cli: "--fixed-type",
    when: (values) => values.answers === true,
  },
  {
    kind: "area",
    name: "fixed_response/body",
    label: "Body, a Mustache template",
    cli: "--fixed-response",
    mono: true,
    rows: 4,
    when: (values) => values.answers === true,
    help: "{{decision}}, {{route}}, {{method}}, {{path.NAME}} and {{claims.NAME}} are filled in.",
  },
  {
    kind: "text",
    name: "upstream",
    label: "Upstream instead of the API's own",
    cli: "--upstream",
    mono: true,
    when: (values) => values.answers !== true,
  },
  {
    kind: "text",
    name: "transform/path",
    label: "The path becomes",
    cli: "--upstream-path",
    mono: true,
    placeholder: "/v2/{light}",
    when: (values) => values.answers !== true,
  },
  {
    kind: "text",
    name: "transform/credential",
    label: "Upstream credential",
    cli: "--credential",
    mono: true,
    when: (values) => values.answers !== true,
  },
  {
    kind: "choice",
    name: "transform/proof",
    label: "Gateway proof",
    cli: "--proof",
    choices: [
      ["", "used again for 30 s"],
      ["reused", "used again for 30 s, said"],
      ["each-request", "bound to each request"],
      ["none", "none"],
    ],
    when: (values) => values.answers !== true,
  },
  {
    kind: "text",
    name: "timeouts/connect",
    label: "Connect timeout",
    cli: "--connect-timeout",
    placeholder: "5s",
    when: (values) => values.answers !== true,
  },
  {
    kind: "text",
    name: "timeouts/idle",
    label: "Idle timeout",
    cli: "--idle-timeout",
    placeholder: "30s",
    when: (values) => values.answers !== true,
  },
  {
    kind: "text",
    name: "timeouts/total",
    label: "Total timeout",
    cli: "--total-timeout",
    when: (values) => values.answers !== true,
  },
  {
    kind: "flag",
    name: "cors",
    label: "CORS",
    words: "Pages of the issuer's browser clients may call it from their own origins.",
    cli: "--cors",
    cliStyle: "negatable",
  },
];
export const TRANSFORM_FIELDS: Field[] = [
  {
    kind: "pairs",
    name: "transform/set_on_request",
    label: "Request headers set",
    cli: "--request-header",
    placeholder: "X-Quay = {{claims.home_quay}}",
    help: "{{decision}}, {{route}}, {{method}}, {{path.NAME}} and {{claims.NAME}} are filled in.",
  },
  {
    kind: "pairs",
    name: "transform/renamed_on_request",
    label: "Request headers renamed",
    cli: "--rename-request-header",
  },
  {
    kind: "lines",
    name: "transform/removed_on_request",
    label: "Request headers removed",
    cli: "--drop-request-header",
  },
  { kind: "pairs", name: "transform/set_on_response", label: "Response headers set", cli: "--response-header" },
  {
    kind: "lines",
    name: "transform/removed_on_response",
    label: "Response headers removed",
    cli: "--drop-response-header",
  },
  {
    kind: "pairs",
    name: "refusals",
    label: "Own texts for refusals",
    cli: "--refusal",
    placeholder: "insufficient-scope = Ask the harbour office for {{needed}}.",
    help:
      "By a reason, a status or any. {{sentence}}, {{expected}}, {{received}}, {{fix}}, {{status}}, " +
      "{{reason}}, {{needed}}, {{decision}} and {{route}} are filled in. Status and challenge stay.",
  },
];
export const LIMIT_FIELDS: Field[] = [
  {
    kind: "lines",
    name: "limits/rates",
    label: "Rates",
    cli: "--rate",
    placeholder: "60 per 1m by client",
    help: "By client, person, address or route.",
  },
  { kind: "lines", name: "limits/quotas", label: "Quotas", cli: "--quota", placeholder: "100000 per month by client" },
  { kind: "number", name: "limits/concurrent", label: "Concurrent requests", cli: "--concurrent" },
  { kind: "number", name: "limits/body", label: "Largest body, bytes", cli: "--body" },
  { kind: "number", name: "limits/headers", label: "Most header bytes", cli: "--header-bytes" },
];

export function routeValues(it: Route): Values {
  return {
    methods: it.methods,
    path: it.path,
    open: it.open,
    api: it.api ?? "",
    scopes: it.scopes,
    mode: it.mode ?? "all-of",
    any_scope: it.any_scope,
    cors: it.cors,
    upstream: it.upstream ?? "",
    answers: it.fixed_response !== null,
    why: "",
    "fixed_response/status": it.fixed_response?.status ?? 200,
    "fixed_response/content_type": it.fixed_response?.content_type ?? "application/json",
    "fixed_response/body": it.fixed_response?.body ?? "",
    "who/for": it.who?.for && it.who.for !== "anyone" ? it.who.for : "",
    "who/acr": it.who?.acr ?? "",
    "who/max_age": it.who?.max_age ?? "",
    "who/sign_in": it.who?.sign_in ?? "",
    "who/subscription": it.who?.subscription ?? false,
    "who/clients": it.who?.clients ?? [],
    "who/roles": it.who?.roles ?? [],
    "who/issuers": it.who?.issuers ?? [],
    "who/condition": it.who?.condition ?? "",
    "transform/path": it.transform?.path ?? "",
    "transform/credential": it.transform?.credential ?? "",
    "transform/proof": it.transform?.proof ?? "",
    "timeouts/connect": it.timeouts?.connect ?? "",
    "timeouts/idle": it.timeouts?.idle ?? "",
    "timeouts/total": it.timeouts?.total ?? "",
    "transform/set_on_request": it.transform?.set_on_request ?? {},
    "transform/renamed_on_request": it.transform?.renamed_on_request ?? {},
    "transform/removed_on_request": it.transform?.removed_on_request ?? [],
    "transform/set_on_response": it.transform?.set_on_response ?? {},
    "transform/removed_on_response": it.transform?.removed_on_response ?? [],
    refusals: Object.fromEntries(
      Object.entries(it.transform?.refusals ?? {}).map(([when, own]) => [when, own.body ?? ""]),
    ),
    "limits/rates": it.limits?.rates ?? [],
    "limits/quotas": it.limits?.quotas ?? [],
    "limits/concurrent": it.limits?.concurrent ?? null,
    "limits/body": it.limits?.body ?? null,
    "limits/headers": it.limits?.headers ?? null,
  };
}

/** A route is sent whole: what the form has, and what it left as it was. Empty texts mean nothing is wanted. */
export function routeBody(values: Values, before: Route | null): Record<string, unknown> {
  const said = (name: string) => {
    const value = values[name];
    return typeof value === "string" && value.trim() !== "" ? value.trim() : null;
  };
  const list = (name: string) => {
    const value = values[name];
    return Array.isArray(value) && value.length > 0 ? value : null;
  };
  const pairs = (name: string) => {
    const value = values[name];
    return typeof value === "object" && value !== null && !Array.isArray(value) && Object.keys(value).length > 0
      ? value
      : null;
  };
  const number = (name: string) => {
    const value = values[name];
    return typeof value === "number" ? value : null;
  };
  const open = values.open === true;
  const answers = values.answers === true;
  const anyScope = values.any_scope === true;
  const texts = pairs("refusals") ?? {};
  const refusals = Object.fromEntries(
    Object.entries(texts).map(([when, body]) => [
      when,
      { content_type: before?.transform?.refusals?.[when]?.content_type ?? null, body },
    ]),
  );
  const scopes = list("scopes") ?? [];
  const whole: Record<string, unknown> = {
    methods: values.methods ?? [],
    path: values.path,
    cors: values.cors === true,
    ...(open
      ? { open: true }
      : {
          api: said("api"),
          ...(anyScope ? { any_scope: true } : { scopes, mode: scopes.length > 1 ? values.mode : undefined }),
        }),
    ...(answers
      ? {
          fixed_response: {
            status: number("fixed_response/status"),
            content_type: said("fixed_response/content_type"),
            body: typeof values["fixed_response/body"] === "string" ? values["fixed_response/body"] : "",
          },
        }
      : { upstream: said("upstream") }),
    who: open
      ? null
      : present({
          issuers: list("who/issuers"),
          for: said("who/for"),
          clients: list("who/clients"),
          roles: list("who/roles"),
          max_age: said("who/max_age"),
          acr: said("who/acr"),
          condition: said("who/condition"),
          sign_in: said("who/sign_in"),
          subscription: values["who/subscription"] === true ? true : null,
        }),
    transform: present({
      path: answers ? null : said("transform/path"),
      credential: answers ? null : said("transform/credential"),
      proof: answers ? null : said("transform/proof"),
      set_on_request: pairs("transform/set_on_request"),
      renamed_on_request: pairs("transform/renamed_on_request"),
      removed_on_request: list("transform/removed_on_request"),
      set_on_response: pairs("transform/set_on_response"),
      removed_on_response: list("transform/removed_on_response"),
      refusals: Object.keys(refusals).length > 0 ? refusals : null,
    }),
    timeouts: answers
      ? null
      : present({
          connect: said("timeouts/connect"),
          idle: said("timeouts/idle"),
          total: said("timeouts/total"),
        }),
    limits: present({
      rates: list("limits/rates"),
      quotas: list("limits/quotas"),
      concurrent: number("limits/concurrent"),
      body: number("limits/body"),
      headers: number("limits/headers"),
    }),
  };
  return Object.fromEntries(Object.entries(whole).filter(([, value]) => value !== null && value !== undefined));
}

function present(members: Record<string, unknown>): Record<string, unknown> | null {
  const there = Object.entries(members).filter(([, value]) => value !== null);
  return there.length === 0 ? null : Object.fromEntries(there);
}

/** The whole route, with some members of a form in the place of what they were. */
export function routeWith(before: Route, members: Record<string, unknown>): Record<string, unknown> {
  const values = routeValues(before);
  for (const [name, value] of Object.entries(flat(members))) values[name] = value;
  return routeBody(values, before);
}

function flat(members: Record<string, unknown>): Values {
  const flattened: Values = {};
  for (const [name, value] of Object.entries(members)) {
    if (
      ["who", "transform", "timeouts", "limits", "fixed_response"].includes(name) &&
      typeof value === "object" &&
      value !== null
    ) {
      for (const [inner, one] of Object.entries(value)) flattened[`${name}/${inner}`] = plain(one);
    } else flattened[name] = plain(value);
  }
  return flattened;
}

function plain(value: unknown): string | number | boolean | null | string[] | Record<string, string> {
  if (typeof value === "string" || typeof value === "number" || typeof value === "boolean") return value;
  if (Array.isArray(value)) return value.map(String);
  if (typeof value === "object" && value !== null)
    return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, String(one)]));
  return null;
}
