import type { Field, Values } from "../../parts/form";
import type { Client } from "../../api/shapes";

const withPeople = (values: Values) => values.kind !== "service";
const GRANTS: [string, string][] = [
  ["authorization_code", "a person signs in"],
  ["refresh_token", "goes on when the token runs out"],
  ["client_credentials", "on its own"],
  ["urn:ietf:params:oauth:grant-type:device_code", "a person approves on another device"],
];
const IDENTITY: [string, string][] = [
  ["openid", "know who it is"],
  ["profile", "the profile"],
  ["email", "the address"],
  ["address", "the postal address"],
  ["phone", "the telephone number"],
  ["offline_access", "go on without them"],
  ["admit:run", "run Admit for them"],
];

export const TEXT_FIELDS: Field[] = [
  { kind: "text", name: "title", label: "Title", cli: "--title", help: "What people read when they approve." },
  { kind: "text", name: "owner", label: "Who answers for it, in words", cli: "--owner" },
  { kind: "area", name: "description", label: "What it is for", cli: "--description", rows: 2 },
  { kind: "lines", name: "contacts", label: "Contacts", cli: "--contact" },
  { kind: "lines", name: "links", label: "Links", cli: "--link", placeholder: "https://pilots.saltmarsh.example" },
  { kind: "lines", name: "tags", label: "Tags", cli: "--tag", placeholder: "night-shift" },
];
export const ADDRESS_FIELDS: Field[] = [
  {
    kind: "lines",
    name: "redirect_uris",
    label: "Redirect addresses",
    cli: "--redirect",
    placeholder: "https://desk.saltmarsh.example/back",
    help: "Compared character by character. A development address on loopback is fine.",
  },
  {
    kind: "lines",
    name: "origins",
    label: "Origins of its pages",
    cli: "--origin",
    when: (values) => values.kind === "browser" || values.kind === "web",
  },
  { kind: "lines", name: "after_sign_out", label: "Where people go after signing out", cli: "--after-sign-out" },
];
export const PROOF_FIELDS: Field[] = [
  {
    kind: "choice",
    name: "auth_method",
    label: "How it proves itself",
    cli: "--auth-method",
    choices: [
      ["client_secret_basic", "a secret, in the header"],
      ["client_secret_post", "a secret, in the form"],
      ["private_key_jwt", "a signature by its own key"],
      ["none", "it cannot"],
    ],
  },
  {
    kind: "choice",
    name: "assertion_alg",
    label: "Algorithm of its signatures",
    cli: "--assertion-alg",
    choices: [
      ["", "any of its keys'"],
      ["ES256", "ES256"],
      ["RS256", "RS256"],
      ["PS256", "PS256"],
      ["EdDSA", "EdDSA"],
    ],
    when: (values) => values.auth_method === "private_key_jwt",
  },
  {
    kind: "text",
    name: "jwks_uri",
    label: "Where its keys are",
    cli: "--jwks-uri",
    mono: true,
    wide: true,
    when: (values) => values.auth_method === "private_key_jwt",
  },
  {
    kind: "area",
    name: "jwks",
    label: "Or its public keys themselves, as a key set",
    mono: true,
    json: true,
    rows: 4,
    when: (values) => values.auth_method === "private_key_jwt",
    editOnly: true,
  },
  { kind: "several", name: "grant_types", label: "Grant types", cli: "--grant-type", choices: GRANTS },
  {
    kind: "several",
    name: "identity_scopes",
    label: "What it may ask about people",
    cli: "--identity",
    choices: IDENTITY,
    when: withPeople,
  },
  {
    kind: "flag",
    name: "second_factor",
    label: "Second factor",
    words: "People who use it sign in with one.",
    cli: "--second-factor",
    when: withPeople,
  },
  {
    kind: "flag",
    name: "may_introspect",
    label: "Introspection",
    words: "It may introspect every token of the issuer, as a gateway elsewhere does. For administrators to allow.",
    cli: "--may-introspect",
    when: (values) => values.kind === "service" || values.kind === "web",
  },
  {
    kind: "choice",
    name: "id_token_alg",
    label: "ID tokens signed with",
    cli: "--id-token-alg",
    choices: [
      ["", "RS256, as usual"],
      ["ES256", "ES256"],
      ["PS256", "PS256"],
      ["EdDSA", "EdDSA"],
    ],
    when: withPeople,
  },
];
export function clientValues(it: Client): Values {
  return {
    kind: it.kind,
    title: it.title,
    owner: it.owner ?? "",
    description: it.description ?? "",
    contacts: it.contacts,
    links: it.links,
    tags: it.tags,
    redirect_uris: it.redirect_uris,
    origins: it.origins,
    after_sign_out: it.after_sign_out,
    auth_method: it.auth_method,
    assertion_alg: it.assertion_alg ?? "",
    jwks_uri: it.jwks_uri ?? "",
    jwks: it.jwks ? JSON.stringify(it.jwks, null, 2) : "",
    grant_types: it.grant_types,
    identity_scopes: it.identity_scopes,
    second_factor: it.second_factor,
    may_introspect: it.may_introspect,
    id_token_alg: it.id_token_alg ?? "",
  };
}
