import type { Field, Values } from "../../parts/form";
import type { Client } from "../../api/answers";

const withPeople = (values: Values) => values.kind !== "machine";
const GRANTS: [string, string][] = [
  ["authorization_code", "a person signs in"],
  ["refresh_token", "goes on when the token expires"],
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
  {
    kind: "text",
    name: "client_name",
    label: "Client name",
    cli: "--client-name",
    help: "What people read when they approve.",
  },
  { kind: "area", name: "description", label: "What it is for", cli: "--description", rows: 2 },
  { kind: "lines", name: "contacts", label: "Contacts", cli: "--contact" },
  { kind: "lines", name: "links", label: "Links", cli: "--link", placeholder: "https://pilots.saltmarsh.example" },
  { kind: "lines", name: "tags", label: "Tags", cli: "--tag", placeholder: "night-shift" },
];
export const ADDRESS_FIELDS: Field[] = [
  {
    kind: "lines",
    name: "redirect_uris",
    label: "Redirect URIs",
    cli: "--redirect-uri",
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
  {
    kind: "lines",
    name: "post_logout_redirect_uris",
    label: "Where people go after signing out",
    cli: "--post-logout-redirect-uri",
  },
];
export const PROOF_FIELDS: Field[] = [
  {
    kind: "choice",
    name: "token_endpoint_auth_method",
    label: "How it proves itself",
    cli: "--token-endpoint-auth-method",
    choices: [
      ["client_secret_basic", "a secret, in the header"],
      ["client_secret_post", "a secret, in the form"],
      ["private_key_jwt", "a signature by its own key"],
      ["none", "it cannot"],
    ],
  },
  {
    kind: "choice",
    name: "token_endpoint_auth_signing_alg",
    label: "Algorithm of its signatures",
    cli: "--token-endpoint-auth-signing-alg",
    choices: [
      ["", "any of its keys'"],
      ["ES256", "ES256"],
      ["RS256", "RS256"],
      ["PS256", "PS256"],
      ["EdDSA", "EdDSA"],
    ],
    when: (values) => values.token_endpoint_auth_method === "private_key_jwt",
  },
  {
    kind: "text",
    name: "jwks_uri",
    label: "Where its keys are",
    cli: "--jwks-uri",
    mono: true,
    wide: true,
    when: (values) => values.token_endpoint_auth_method === "private_key_jwt",
  },
  {
    kind: "area",
    name: "jwks",
    label: "Or its public keys themselves, as a key set",
    mono: true,
    json: true,
    rows: 4,
    when: (values) => values.token_endpoint_auth_method === "private_key_jwt",
    editOnly: true,
  },
  { kind: "several", name: "grant_types", label: "Grant types", cli: "--grant-type", choices: GRANTS },
  {
    kind: "several",
    name: "openid_scopes",
    label: "What it may ask about people",
    cli: "--openid-scope",
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
    when: (values) => values.kind === "machine" || values.kind === "web",
  },
  {
    kind: "choice",
    name: "id_token_signed_response_alg",
    label: "ID tokens signed with",
    cli: "--id-token-signed-response-alg",
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
    client_name: it.client_name,
    description: it.description ?? "",
    contacts: it.contacts,
    links: it.links,
    tags: it.tags,
    redirect_uris: it.redirect_uris,
    origins: it.origins,
    post_logout_redirect_uris: it.post_logout_redirect_uris,
    token_endpoint_auth_method: it.token_endpoint_auth_method,
    token_endpoint_auth_signing_alg: it.token_endpoint_auth_signing_alg ?? "",
    jwks_uri: it.jwks_uri ?? "",
    jwks: it.jwks ? JSON.stringify(it.jwks, null, 2) : "",
    grant_types: it.grant_types,
    openid_scopes: it.openid_scopes,
    second_factor: it.second_factor,
    may_introspect: it.may_introspect,
    id_token_signed_response_alg: it.id_token_signed_response_alg ?? "",
  };
}
