import { Route, Routes } from "react-router";
import { place, useIssuer, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { ButtonLink, Head } from "../../parts/basics";
import { Tabs } from "../../parts/tabs";
import { Limits } from "./limits";
import { PlanPage, Plans } from "./plans";
import { Revisions } from "./revisions";
import { RouteTable } from "./routes";
import { TrustedIssuerPage, TrustedIssuers } from "./trusted-issuers";
import { TryTable } from "./try";
import { UpstreamCredentialPage, UpstreamCredentials } from "./upstream-credentials";

export default function Gateway() {
  const issuer = useIssuer();
  const target = useTarget();
  const { may } = useSession();
  const at = (...parts: string[]) => place(issuer, "gateway", ...parts);
  return (
    <>
      <Head
        title="Gateway"
        what="What is checked before a request reaches an API."
        next={
          may.change && (
            <ButtonLink kind="act" to={place(target, "gateway", "new")}>
              Add a route
            </ButtonLink>
          )
        }
      />
      <Tabs
        label="Of the gateway"
        of={[
          [at(), "Routes"],
          [at("revisions"), "Revisions"],
          [at("try"), "Try a path"],
          [at("limits"), "Limits"],
          [at("plans"), "Plans"],
          [at("trusted-issuers"), "Trusted issuers", false],
          [at("upstream-credentials"), "Upstream credentials", false],
        ]}
      />
      <Routes>
        <Route index element={<RouteTable />} />
        <Route path="revisions" element={<Revisions />} />
        <Route path="try" element={<TryTable />} />
        <Route path="limits" element={<Limits />} />
        <Route path="plans" element={<Plans />} />
        <Route path="plans/:name" element={<PlanPage />} />
        <Route path="trusted-issuers" element={<TrustedIssuers />} />
        <Route path="trusted-issuers/:name" element={<TrustedIssuerPage />} />
        <Route path="upstream-credentials" element={<UpstreamCredentials />} />
        <Route path="upstream-credentials/:name" element={<UpstreamCredentialPage />} />
      </Routes>
    </>
  );
}
