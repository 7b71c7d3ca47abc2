// The console's words for what the admin API answers. Nothing is believed before its reader has looked at it; readers
// and types are made from the API's description (openapi-ts.config.ts).
import * as v from "valibot";
import * as of from "./contract/valibot.gen";

export type Action = v.InferOutput<typeof of.vActionView>;
export const Fix = of.vFixView;
export type Fix = v.InferOutput<typeof Fix>;
export const Fault = of.vFaultView;
export type Fault = v.InferOutput<typeof Fault>;
export const Problem = of.vProblem;
export type Problem = v.InferOutput<typeof Problem>;
export const Issuer = of.vIssuerView;
export type Issuer = v.InferOutput<typeof Issuer>;
export const Secret = of.vSecretView;
export type Secret = v.InferOutput<typeof Secret>;
export const Publication = of.vPublicationView;
export type Publication = v.InferOutput<typeof Publication>;
export const Plan = of.vPlanView;
export type Plan = v.InferOutput<typeof Plan>;
export const Subscription = of.vSubscriptionView;
export type Subscription = v.InferOutput<typeof Subscription>;
export const Usage = of.vUsageView;
export type Usage = v.InferOutput<typeof Usage>;
export const Registration = of.vRegistrationView;
export const InitialAccessToken = of.vInitialAccessTokenView;
export const InitialAccessTokenMade = of.vInitialAccessTokenMade;
export type InitialAccessTokenMade = v.InferOutput<typeof InitialAccessTokenMade>;
export const Api = of.vApiView;
export type Api = v.InferOutput<typeof Api>;
export const StandingApproval = of.vStandingApprovalView;
export type StandingApproval = v.InferOutput<typeof StandingApproval>;
export const Scope = of.vScopeView;
export const ScopePreview = of.vScopePreview;
export type Scope = v.InferOutput<typeof Scope>;
export const Role = of.vRoleView;
export type Role = v.InferOutput<typeof Role>;
export const Minting = of.vMintingView;
export type Minting = v.InferOutput<typeof Minting>;
export const MintingPreview = of.vMintingPreview;
export const Approval = of.vApprovalView;
export type Approval = v.InferOutput<typeof Approval>;
export const Client = of.vClientView;
export type Client = v.InferOutput<typeof Client>;
export const SecretOnce = of.vSecretOnce;
export type SecretOnce = v.InferOutput<typeof SecretOnce>;
export const ClientMade = of.vClientMade;
export const SecretMade = of.vSecretMade;
export const ApiSecretMade = of.vApiSecretMade;
export const Route = of.vRouteView;
export type Route = v.InferOutput<typeof Route>;
export const RouteRevised = of.vRouteRevised;
export const Preview = of.vPreview;
export const Revision = of.vRevisionView;
export type Revision = v.InferOutput<typeof Revision>;
export const Tried = of.vTriedView;
export const Check = of.vCheckView;
export type Check = v.InferOutput<typeof Check>;
export const Decision = of.vDecisionView;
export type Decision = v.InferOutput<typeof Decision>;
export const Explained = of.vExplained;
export const Count = of.vCountView;
export const Watch = of.vWatchView;
export const Person = of.vPersonView;
export type Person = v.InferOutput<typeof Person>;
export const Connecting = of.vConnectingView;
export const Placeholder = of.vPlaceholderView;
export const ProfileField = of.vFieldView;
export type ProfileField = v.InferOutput<typeof ProfileField>;
export const Owner = of.vOwnerView;
export type Owner = v.InferOutput<typeof Owner>;
export const AdminRoleChange = of.vAdminRoleChangeView;
export type AdminRoleChange = v.InferOutput<typeof AdminRoleChange>;
export const Mail = of.vMailView;
export type Mail = v.InferOutput<typeof Mail>;
export const Key = of.vKeyView;
export type Key = v.InferOutput<typeof Key>;
export const Issued = of.vIssuedView;
export type Issued = v.InferOutput<typeof Issued>;
export const ActiveTokens = of.vActiveTokensView;
export const Trial = of.vTrialView;
export const Called = of.vCallView;
export type Called = v.InferOutput<typeof Called>;
export const AuditLine = of.vAuditView;
export type AuditLine = v.InferOutput<typeof AuditLine>;
export const AuditProof = of.vAuditProof;
export const TrustedIssuer = of.vTrustedIssuerView;
export type TrustedIssuer = v.InferOutput<typeof TrustedIssuer>;
export const UpstreamCredential = of.vUpstreamCredentialView;
export type UpstreamCredential = v.InferOutput<typeof UpstreamCredential>;
export const Steps = of.vStepsView;
export type Steps = v.InferOutput<typeof Steps>;
export const SetupOutcome = of.vSetupView;
export const Service = of.vServiceView;
export const ServiceCheck = of.vServiceCheck;
export const AccessMap = of.vAccessMapView;
export type AccessMap = v.InferOutput<typeof AccessMap>;

// The session's own, which is no part of the admin API.
export const Signed = v.object({
  issuer: v.string(),
  all: v.boolean(),
  id: v.string(),
  email: v.string(),
  name: v.string(),
  admin_role: v.nullable(v.string()),
  owns: v.boolean(),
  form: v.string(),
  gateway: v.string(),
  public_url: v.string(),
});
export type Signed = v.InferOutput<typeof Signed>;
export const Nobody = v.object({
  first: v.boolean(),
  issuers: v.array(v.object({ name: v.string(), title: v.string() })),
});
export type Nobody = v.InferOutput<typeof Nobody>;

export function page<T extends v.GenericSchema>(item: T) {
  return v.object({ items: v.array(item), next: v.nullable(v.string()) });
}

/** What changes answer: the thing as it is now, and what Admit did or advises. */
export function changed<T extends v.GenericSchema>(item: T) {
  return v.object({ now: item, notes: v.array(v.string()) });
}
export const Checking = of.vCheckingView;
export const Nothing = v.unknown();
export const Text = v.string();
export const OpenApiLoaded = of.vOpenApiLoaded;
export type OpenApiLoaded = v.InferOutput<typeof OpenApiLoaded>;
export type SetupStep = OpenApiLoaded["steps"][number];
export const OpenApiChecked = of.vOpenApiChecked;
export type OpenApiChecked = v.InferOutput<typeof OpenApiChecked>;
