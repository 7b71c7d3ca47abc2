import type { Field, Values } from "../../parts/form";
import type { Api, Minting, Scope } from "../../api/shapes";
import { APPROVERS, EFFECTS, FORMATS, HOLDERS, KINDS, LIVES, REACHES } from "../../parts/words";

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
    all_by_default: it.all_by_default,
    outside_domains: false,
  };
}

export const SCOPE_FIELDS: Field[] = [
  { kind: "choice", name: "effect", label: "What it does", cli: "--effect", choices: EFFECTS },
  { kind: "choice", name: "reach", label: "What it reaches", cli: "--reach", choices: REACHES },
  { kind: "choice", name: "holders", label: "Who holds it", cli: "--holders", choices: HOLDERS },
  {
    kind: "choice",
    name: "approver",
    label: "Who approves",
    cli: "--approver",
    choices: [["", "as Admit proposes"], ...APPROVERS],
  },
  {
    kind: "area",
    name: "words",
    label: "One sentence that says the consequence",
    cli: "--words",
    rows: 2,
    help: "Admit proposes one when it stays empty.",
  },
  {
    kind: "area",
    name: "words_for_person",
    label: "The same for the person who signs in, where it should differ",
    cli: "--words-for-person",
    rows: 2,
    when: (values) => values.holders !== "clients",
  },
  { kind: "choice", name: "life", label: "Life", cli: "--life", choices: LIVES },
  {
    kind: "text",
    name: "closes_on",
    label: "Closes on",
    cli: "--closes-on",
    placeholder: "30d, or 2027-01-31T00:00:00Z",
    when: (values) => values.life === "closing",
  },
  {
    kind: "flag",
    name: "by_role",
    label: "By role",
    words: "Only people whose role has it may use it; else it is open to all.",
    cli: "--by-role",
    cliStyle: "negatable",
    when: (values) => values.holders !== "clients",
  },
  {
    kind: "flag",
    name: "given_by_default",
    label: "Given by default",
    words: "When a request names no scope.",
    cli: "--default",
    cliStyle: "negatable",
  },
  {
    kind: "flag",
    name: "in_metadata",
    label: "In public metadata",
    words: "Its name is published.",
    cli: "--in-metadata",
    cliStyle: "negatable",
  },
  {
    kind: "several",
    name: "standing_kinds",
    label: "Approved ahead for clients of kind",
    cli: "--standing-kind",
    choices: KINDS.map(([kind]) => [kind, ""]),
    help: "A client that fits all that is said here has the scope as soon as it requests it.",
  },
  {
    kind: "lines",
    name: "standing_tags",
    label: "… with one of these tags",
    cli: "--standing-tag",
    cliRepeat: true,
    placeholder: "night-shift",
    help: "From then on only administrators put such a tag on a client.",
  },
  {
    kind: "lines",
    name: "standing_owners",
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
    holders: it.holders,
    approver: it.approver,
    words: it.words,
    words_for_person: it.words_for_person ?? "",
    life: it.life,
    closes_on: it.closes_on ?? "",
    by_role: it.by_role,
    given_by_default: it.given_by_default,
    in_metadata: it.in_metadata,
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
  { kind: "text", name: "refresh_idle", label: "Refresh, unused for", cli: "--refresh-idle", placeholder: "14d" },
  { kind: "text", name: "refresh_longest", label: "Refresh, at longest", cli: "--refresh-longest", placeholder: "90d" },
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
    refresh_idle: it.refresh_idle ?? "",
    refresh_longest: it.refresh_longest ?? "",
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
