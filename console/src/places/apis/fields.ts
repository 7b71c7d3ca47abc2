import type { Field, Values } from "../../parts/form";
import type { Api, Minting, Scope } from "../../api/answers";
import { APPROVERS, EFFECTS, FORMATS, FOR, KINDS, STATUSES, REACHES } from "../../parts/words";

export const API_FIELDS: Field[] = [
  { kind: "text", name: "title", label: "Title", cli: "--title", help: "What people read." },
  {
    kind: "text",
    name: "upstream",
    label: "Upstream",
    cli: "--upstream",
    mono: true,
    placeholder: "http://127.0.0.1:8080",
    help: "The address behind the gateway.",
  },
  {
    kind: "text",
    name: "audience",
    label: "Audience",
    cli: "--audience",
    mono: true,
    wide: true,
    help: "Its resource identifier, the aud of its tokens. One is proposed when it stays empty.",
  },
  {
    kind: "lines",
    name: "default_scopes",
    label: "Default scopes",
    cli: "--default-scope",
    cliRepeat: true,
    help: "What a request gets that names no scope. Names of its scopes.",
    editOnly: true,
  },
  {
    kind: "flag",
    name: "all_by_default",
    label: "All scopes by default",
    words: "A request that names no scope gets every scope that the client is approved for.",
    cli: "--all-by-default",
  },
  {
    kind: "flag",
    name: "outside_domains",
    label: "Outside the issuer's domains",
    words: "The audience lies elsewhere on purpose.",
    cli: "--outside-domains",
    cliStyle: "switch",
    editOnly: true,
  },
];
export function apiValues(it: Api): Values {
  return {
    title: it.title,
    upstream: it.upstream ?? "",
    audience: it.audience,
    default_scopes: it.default_scopes,
    all_by_default: it.all_by_default,
    outside_domains: false,
  };
}

export const SCOPE_FIELDS: Field[] = [
  { kind: "choice", name: "effect", label: "What it does", cli: "--effect", choices: EFFECTS },
  { kind: "choice", name: "reach", label: "What it reaches", cli: "--reach", choices: REACHES },
  { kind: "choice", name: "for", label: "Who holds it", cli: "--for", choices: FOR },
  {
    kind: "choice",
    name: "approver",
    label: "Who approves",
    cli: "--approver",
    choices: [["", "as Admit proposes"], ...APPROVERS],
  },
  {
    kind: "area",
    name: "consequence",
    label: "Consequence, in one sentence",
    cli: "--consequence",
    rows: 2,
    help: "Admit proposes one when it stays empty. {whose} reads your, everyone's or the caller's own.",
  },
  { kind: "choice", name: "status", label: "Status", cli: "--status", choices: STATUSES },
  {
    kind: "text",
    name: "closes_on",
    label: "Closes on",
    cli: "--closes-on",
    placeholder: "30d, or 2027-01-31T00:00:00Z",
    when: (values) => values.status === "closing",
  },
  {
    kind: "flag",
    name: "by_role",
    label: "By role",
    words: "Only people whose role has it may use it; else it is open to all.",
    cli: "--by-role",
    cliStyle: "negatable",
    when: (values) => values.for !== "clients",
  },
  {
    kind: "flag",
    name: "listed",
    label: "Listed",
    words: "The issuer's public metadata names it.",
    cli: "--listed",
    cliStyle: "negatable",
  },
  {
    kind: "several",
    name: "standing_kinds",
    section: "Approved ahead",
    label: "Approved ahead for clients of kind",
    cli: "--standing-kind",
    choices: KINDS.map(([kind]) => [kind, ""]),
    help: "A client that fits all that is said here has the scope as soon as it requests it.",
  },
  {
    kind: "lines",
    name: "standing_tags",
    section: "Approved ahead",
    label: "… with one of these tags",
    cli: "--standing-tag",
    cliRepeat: true,
    placeholder: "night-shift",
    help: "From then on only administrators put such a tag on a client.",
  },
  {
    kind: "lines",
    name: "standing_owners",
    section: "Approved ahead",
    label: "… that one of these people answers for",
    cli: "--standing-owner",
    cliRepeat: true,
    placeholder: "edda.lorne@saltmarsh.example",
  },
];
export const NO_STANDING: Values = { standing_kinds: [], standing_tags: [], standing_owners: [] };
/** What a form says of a standing approval, as the service takes it. */
export function scopeBody(members: Record<string, unknown>): Record<string, unknown> {
  const { standing_kinds: kinds, standing_tags: tags, standing_owners: owners, ...rest } = members;
  return kinds === undefined && tags === undefined && owners === undefined
    ? rest
    : { ...rest, standing_approval: { kinds, tags, owners } };
}
export function scopeValues(it: Scope): Values {
  return {
    effect: it.effect,
    reach: it.reach,
    for: it.for,
    approver: it.approver,
    consequence: it.consequence,
    status: it.status,
    closes_on: it.closes_on ?? "",
    by_role: it.by_role,
    listed: it.listed,
    standing_kinds: it.standing_approval?.kinds ?? [],
    standing_tags: it.standing_approval?.tags ?? [],
    standing_owners: it.standing_approval?.owners ?? [],
  };
}

export const MINTING_FIELDS: Field[] = [
  {
    kind: "text",
    name: "lifetime",
    label: "Lifetime",
    cli: "--lifetime",
    placeholder: "15m",
    help: "Such as 15m; 24h at most.",
  },
  { kind: "choice", name: "format", label: "Format", cli: "--format", choices: FORMATS },
  {
    kind: "text",
    name: "refresh_idle_timeout",
    label: "Refresh, unused for",
    cli: "--refresh-idle-timeout",
    placeholder: "14d",
  },
  { kind: "text", name: "max_refresh_age", label: "Refresh, at longest", cli: "--max-refresh-age", placeholder: "90d" },
  {
    kind: "pairs",
    name: "claims",
    label: "Extra claims, in CEL",
    cli: "--claim",
    placeholder: "roles = person.roles",
    help: "Over client, api, scopes, grant_type, person and now.",
  },
];
export function mintingValues(it: Minting): Values {
  return {
    lifetime: it.lifetime,
    format: it.format,
    refresh_idle_timeout: it.refresh_idle_timeout ?? "",
    max_refresh_age: it.max_refresh_age ?? "",
    claims: Object.fromEntries(it.claims.map((one) => [one.name, one.expression])),
  };
}
/** Claims go as a list of name and expression. */
export function mintingBody(members: Record<string, unknown>): Record<string, unknown> {
  const { claims, ...rest } = members;
  return typeof claims === "object" && claims !== null
    ? { ...rest, claims: Object.entries(claims).map(([name, expression]) => ({ name, expression })) }
    : rest;
}
