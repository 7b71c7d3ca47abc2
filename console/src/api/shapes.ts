// What the admin API answers, as far as the console reads it. Nothing is believed before one of these has looked at it.
import * as v from "valibot";

const text = v.optional(v.nullable(v.string()), null);
const texts = v.optional(v.nullable(v.array(v.string())), []);
const list = v.pipe(
  texts,
  v.transform((all) => all ?? []),
);
const flag = v.optional(v.nullable(v.boolean()), false);
const yes = v.pipe(
  flag,
  v.transform((it) => it === true),
);
const pairs = v.pipe(
  v.optional(v.nullable(v.record(v.string(), v.string())), {}),
  v.transform((all) => all ?? {}),
);
const number = v.number();

export const Fix = v.object({ sentence: text, command: text, who: text });
export const Fault = v.object({ pointer: v.string(), expected: text, received: text, fix: text });
export const Problem = v.object({
  title: text,
  status: v.optional(v.nullable(number), null),
  detail: text,
  reason: text,
  expected: text,
  received: text,
  fix: v.optional(v.nullable(Fix), null),
  faults: v.optional(v.nullable(v.array(Fault)), null),
  would_break: v.optional(v.nullable(v.array(v.string())), null),
  confirm: text,
  decision: text,
});
export type Problem = v.InferOutput<typeof Problem>;
export type Fix = v.InferOutput<typeof Fix>;
export type Fault = v.InferOutput<typeof Fault>;

export const Signed = v.object({
  issuer: v.string(),
  all: v.boolean(),
  id: v.string(),
  email: v.string(),
  name: v.string(),
  admin_role: text,
  owns: v.boolean(),
  form: v.string(),
  gateway: v.string(),
  public_url: v.string(),
});
export type Signed = v.InferOutput<typeof Signed>;
export const Nobody = v.object({ first: v.boolean() });

export function page<T extends v.GenericSchema>(item: T) {
  return v.object({ items: v.array(item), next: text });
}

const PeopleSettings = v.object({
  sign_up: flag,
  second_factor: flag,
  session_idle_timeout: text,
  max_session_age: text,
  logo: text,
  accent: text,
  welcome: text,
  style_sheet: text,
});
export const Issuer = v.object({
  id: v.string(),
  name: v.string(),
  title: v.string(),
  description: text,
  url: v.string(),
  domains: list,
  key_rotation: text,
  secret_lifetime: text,
  max_secret_lifetime: text,
  non_expiring_secrets: yes,
  loopback_redirects: yes,
  grant_types: list,
  people: PeopleSettings,
  revision: number,
  version: number,
  created_at: v.string(),
});
export type Issuer = v.InferOutput<typeof Issuer>;

export const Secret = v.object({ id: v.string(), label: text, created_at: text, expires_at: text, used_at: text });
export type Secret = v.InferOutput<typeof Secret>;
export const Api = v.object({
  id: v.string(),
  name: v.string(),
  title: v.string(),
  audience: v.string(),
  upstream: text,
  owners: list,
  secrets: v.array(Secret),
  default_scopes: list,
  all_by_default: v.boolean(),
  version: number,
  created_at: v.string(),
});
export type Api = v.InferOutput<typeof Api>;
export const StandingApproval = v.object({
  api: v.string(),
  scope: v.string(),
  kinds: list,
  tags: list,
  owners: list,
  set_by: v.string(),
  set_at: v.string(),
  sentence: v.string(),
  clients: number,
});
export type StandingApproval = v.InferOutput<typeof StandingApproval>;
export const Scope = v.object({
  id: v.string(),
  name: v.string(),
  api: v.string(),
  effect: v.string(),
  reach: v.string(),
  for: v.string(),
  consequence: v.string(),
  consequence_reads: v.object({ person: v.string(), administrator: v.string() }),
  approver: v.string(),
  by_role: v.boolean(),
  status: v.string(),
  closes_on: text,
  listed: v.boolean(),
  standing_approval: v.optional(v.nullable(StandingApproval), null),
  version: number,
});
export type Scope = v.InferOutput<typeof Scope>;
export const Role = v.object({
  id: v.string(),
  name: v.string(),
  title: v.string(),
  api: v.string(),
  scopes: list,
  second_factor: v.boolean(),
  version: number,
});
export type Role = v.InferOutput<typeof Role>;

const Claim = v.object({ name: v.string(), expression: v.string() });
const Exempt = v.object({
  name: v.string(),
  clients: list,
  tags: list,
  grant_types: list,
  lifetime: text,
  format: text,
  refresh_idle_timeout: text,
  max_refresh_age: text,
  without: list,
});
export const Minting = v.object({
  api: v.string(),
  lifetime: v.string(),
  format: v.string(),
  claims: v.array(Claim),
  refresh_idle_timeout: text,
  max_refresh_age: text,
  exceptions: v.array(Exempt),
  version: number,
});
export type Minting = v.InferOutput<typeof Minting>;
export const MintingPreview = v.object({
  api: v.string(),
  audience: text,
  lifetime: text,
  format: text,
  why: list,
  claims: v.optional(v.nullable(v.record(v.string(), v.unknown())), null),
  fault: text,
});
export const Checking = v.looseObject({});

export const Approval = v.object({
  id: v.string(),
  client_id: v.string(),
  client: v.string(),
  api: v.string(),
  scope: v.string(),
  consequence: v.string(),
  status: v.string(),
  requested_at: text,
  requested_by: text,
  decided_at: text,
  decided_by: text,
  expires_at: text,
  reason: text,
  waits_for: text,
  by_standing_approval: v.boolean(),
  version: number,
});
export type Approval = v.InferOutput<typeof Approval>;

export const Client = v.object({
  client_id: v.string(),
  name: v.string(),
  client_name: v.string(),
  description: text,
  kind: v.string(),
  token_endpoint_auth_method: v.string(),
  owners: list,
  contacts: list,
  links: list,
  tags: list,
  redirect_uris: list,
  origins: list,
  grant_types: list,
  openid_scopes: list,
  jwks: v.optional(v.nullable(v.record(v.string(), v.unknown())), null),
  jwks_uri: text,
  token_endpoint_auth_signing_alg: text,
  openid_granted: v.boolean(),
  second_factor: v.boolean(),
  id_token_signed_response_alg: text,
  post_logout_redirect_uris: list,
  may_introspect: v.boolean(),
  enabled: v.boolean(),
  issuer: v.string(),
  token_endpoint: v.string(),
  secrets: v.array(Secret),
  scopes: v.array(Approval),
  may: list,
  missing: list,
  remarks: list,
  version: number,
  created_at: v.string(),
});
export type Client = v.InferOutput<typeof Client>;
export const SecretOnce = v.object({
  id: v.string(),
  label: text,
  secret: v.string(),
  expires_at: text,
  authorization: text,
  curl: text,
  env: text,
  code: pairs,
});
export type SecretOnce = v.InferOutput<typeof SecretOnce>;
export const ClientMade = v.object({ now: Client, secret: v.optional(v.nullable(SecretOnce), null), notes: list });
export const SecretMade = v.object({ now: Client, secret: SecretOnce, notes: list });
export const ApiSecretMade = v.object({ now: Api, secret: SecretOnce, notes: list });

const OwnText = v.object({ content_type: text, body: text });
const Who = v.object({
  issuers: list,
  for: text,
  clients: list,
  roles: list,
  max_age: text,
  acr: text,
  condition: text,
  sign_in: text,
});
const Transform = v.object({
  path: text,
  set_on_request: pairs,
  renamed_on_request: pairs,
  removed_on_request: list,
  set_on_response: pairs,
  removed_on_response: list,
  credential: text,
  refusals: v.pipe(
    v.optional(v.nullable(v.record(v.string(), OwnText)), {}),
    v.transform((all) => all ?? {}),
  ),
  proof: text,
});
const Timeouts = v.object({ connect: text, idle: text, total: text });
const Limits = v.object({
  rates: list,
  quotas: list,
  concurrent: v.optional(v.nullable(number), null),
  body: v.optional(v.nullable(number), null),
  headers: v.optional(v.nullable(number), null),
});
const FixedResponse = v.object({ status: v.optional(v.nullable(number), null), content_type: text, body: text });
export const Route = v.object({
  id: v.string(),
  methods: list,
  path: v.string(),
  api: text,
  scopes: list,
  mode: text,
  open: yes,
  any_scope: yes,
  upstream: text,
  fixed_response: v.optional(v.nullable(FixedResponse), null),
  cors: v.boolean(),
  who: v.optional(v.nullable(Who), null),
  transform: v.optional(v.nullable(Transform), null),
  timeouts: v.optional(v.nullable(Timeouts), null),
  limits: v.optional(v.nullable(Limits), null),
  version: number,
  created_at: v.string(),
});
export type Route = v.InferOutput<typeof Route>;
export const RouteRevised = v.object({ now: Route, revision: number, notes: list });
export const Revision = v.object({ number, at: v.string(), who: v.string(), why: text, changed: list });
export type Revision = v.InferOutput<typeof Revision>;
export const Tried = v.object({
  answers: v.optional(v.nullable(Route), null),
  behind: v.array(v.object({ route: v.string(), why: v.string() })),
  methods: list,
  said: list,
});

export const Check = v.object({
  check: v.string(),
  outcome: v.string(),
  expected: text,
  received: text,
  why: text,
  nanos: v.optional(v.nullable(number), null),
});
export type Check = v.InferOutput<typeof Check>;
export const Decision = v.object({
  id: v.string(),
  at: v.string(),
  endpoint: v.string(),
  issuer: v.string(),
  client_id: v.string(),
  client: v.string(),
  subject: v.string(),
  api: v.string(),
  route: v.string(),
  revision: number,
  method: v.string(),
  path: v.string(),
  scopes: v.string(),
  from: v.string(),
  verdict: v.string(),
  reason: text,
  error: text,
  answered: number,
  micros: number,
  checks: v.array(Check),
  fix: v.optional(v.nullable(Fix), null),
  done: list,
});
export type Decision = v.InferOutput<typeof Decision>;
export const Explained = v.object({ sentences: list, decision: Decision });
export const Count = v.object({ what: v.optional(v.nullable(v.string()), ""), from: text, decisions: number });
export const Watch = v.object({
  steps: v.array(v.object({ done: v.boolean(), said: v.string() })),
  next: v.optional(v.nullable(Fix), null),
  decisions: v.array(Decision),
  admitted: v.boolean(),
  now: text,
});

export const Person = v.object({
  id: v.string(),
  email: v.string(),
  email_verified: v.boolean(),
  name: v.string(),
  profile: pairs,
  roles: list,
  admin_role: text,
  enabled: v.boolean(),
  has_password: v.boolean(),
  has_factor: v.boolean(),
  sessions: v.array(
    v.object({
      id: v.string(),
      signed_in_at: v.string(),
      seen_at: text,
      ends_at: text,
      from: text,
      agent: text,
      methods: list,
    }),
  ),
  approved: v.array(v.object({ client_id: v.string(), client: v.string(), scope: v.string(), granted_at: text })),
  version: number,
  created_at: v.string(),
});
export type Person = v.InferOutput<typeof Person>;
export const Connecting = v.object({
  kind: v.string(),
  client_id: v.string(),
  issuer: v.string(),
  authorization_endpoint: text,
  token_endpoint: v.string(),
  device_authorization_endpoint: text,
  redirect_uri: text,
  pkce: text,
  audiences: list,
  scope: v.string(),
  env: v.string(),
  code: pairs,
});
export const Placeholder = v.object({ name: v.string(), means: v.string(), example: text });
export const ProfileField = v.object({
  name: v.string(),
  title: v.string(),
  type: v.string(),
  choices: list,
  pattern: text,
  at_sign_up: v.boolean(),
  editable: v.boolean(),
  on_profile_page: v.boolean(),
  claim: text,
  standard: v.boolean(),
  version: number,
});
export type ProfileField = v.InferOutput<typeof ProfileField>;
export const Owner = v.object({
  person: v.string(),
  email: v.string(),
  kind: v.string(),
  name: v.string(),
  since: text,
  named_by: text,
});
export type Owner = v.InferOutput<typeof Owner>;
export const AdminRoleChange = v.object({
  at: v.string(),
  email: v.string(),
  before: v.string(),
  after: v.string(),
  by: v.string(),
});
export type AdminRoleChange = v.InferOutput<typeof AdminRoleChange>;
export const Mail = v.object({
  id: v.string(),
  to: v.string(),
  subject: v.string(),
  body: text,
  written_at: v.string(),
  sent_at: text,
  fault: text,
  hidden: v.boolean(),
});
export type Mail = v.InferOutput<typeof Mail>;
export const Key = v.object({
  kid: v.string(),
  purpose: v.string(),
  alg: v.string(),
  state: v.string(),
  imported: v.boolean(),
  created_at: v.string(),
  signs_from: text,
  signs_until: text,
  verifies_until: text,
  removed_at: text,
});
export type Key = v.InferOutput<typeof Key>;
export const Issued = v.object({
  token_id: v.string(),
  client: v.string(),
  client_id: v.string(),
  api: v.string(),
  scope: v.string(),
  issued_at: v.string(),
  expires_at: v.string(),
  from: text,
  ended: text,
});
export type Issued = v.InferOutput<typeof Issued>;
export const ActiveTokens = v.object({
  counts: v.array(v.object({ client: v.string(), api: v.string(), tokens: number })),
  total: number,
  exact: v.boolean(),
});
export const Trial = v.object({
  token: v.string(),
  client: v.string(),
  audience: v.string(),
  scope: v.string(),
  expires_at: v.string(),
  decision: v.string(),
});
export const Called = v.object({
  status: number,
  headers: v.array(v.object({ name: v.string(), value: v.string() })),
  body: v.string(),
  cut: v.boolean(),
  micros: number,
  decision: v.optional(v.nullable(Decision), null),
  curl: v.string(),
  trial: v.optional(v.nullable(Decision), null),
});
export type Called = v.InferOutput<typeof Called>;
export const AuditLine = v.object({
  seq: number,
  at: v.string(),
  what: v.string(),
  who: v.string(),
  who_id: text,
  from: text,
  on: text,
  before: text,
  after: text,
  token: text,
  expires_at: text,
  hash: v.string(),
});
export type AuditLine = v.InferOutput<typeof AuditLine>;
export const AuditProof = v.object({ whole: v.boolean(), first: number, last: number, fault: text });
export const TrustedIssuer = v.object({
  id: v.string(),
  name: v.string(),
  url: v.string(),
  metadata: text,
  jwks_uri: text,
  pasted: v.boolean(),
  algorithms: list,
  types: list,
  audience: text,
  scope_claim: text,
  roles_claim: text,
  person_claim: text,
  client_claim: text,
  scopes: pairs,
  clients: pairs,
  kids: list,
  found_at: text,
  fault: text,
  version: number,
  created_at: v.string(),
});
export type TrustedIssuer = v.InferOutput<typeof TrustedIssuer>;
export const UpstreamCredential = v.object({
  id: v.string(),
  name: v.string(),
  upstream: v.string(),
  form: v.string(),
  header: text,
  user: text,
  client_id: text,
  issuer: text,
  token_endpoint: text,
  auth: text,
  scope: text,
  parameters: pairs,
  routes: list,
  version: number,
  created_at: v.string(),
});
export type UpstreamCredential = v.InferOutput<typeof UpstreamCredential>;
export const Steps = v.object({
  good: v.boolean(),
  steps: v.array(v.object({ step: v.string(), good: v.boolean(), said: v.string() })),
});
export type Steps = v.InferOutput<typeof Steps>;
export const SetupOutcome = v.object({
  issuer: v.string(),
  loaded: v.boolean(),
  steps: v.array(
    v.object({
      verb: v.string(),
      what: v.string(),
      members: v.pipe(
        v.optional(v.nullable(v.array(v.object({ member: v.string(), before: text, after: text }))), []),
        v.transform((all) => all ?? []),
      ),
    }),
  ),
  made: v.pipe(
    v.optional(v.nullable(v.record(v.string(), SecretOnce)), {}),
    v.transform((all) => all ?? {}),
  ),
  notes: list,
});
export const Service = v.object({ version: v.string(), public_url: v.string(), gateway: v.string() });
export const ServiceCheck = v.object({ whole: v.boolean(), faults: list });
const Traffic = v.object({ caller: v.string(), route: v.string(), admitted: number, refused: number });
export const AccessMap = v.object({
  callers: v.array(
    v.object({
      id: v.string(),
      kind: v.string(),
      enabled: v.boolean(),
      names: list,
      members: number,
      scopes: v.record(v.string(), v.string()),
    }),
  ),
  scopes: v.array(Scope),
  routes: v.array(Route),
  traffic: v.array(Traffic),
  unknown: v.array(Traffic),
  clients: number,
  together: v.boolean(),
  since: v.string(),
});
export type AccessMap = v.InferOutput<typeof AccessMap>;

/** What changes answer: the thing as it is now, and what Admit did or advises. */
export function changed<T extends v.GenericSchema>(item: T) {
  return v.object({ now: item, notes: list });
}
export const Nothing = v.unknown();
export const Text = v.string();
