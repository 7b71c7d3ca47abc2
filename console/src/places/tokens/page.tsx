import { Route, Routes } from "react-router";
import { place, useIssuer } from "../../frame/issuers";
import { Head } from "../../parts/basics";
import { Tabs } from "../../parts/tabs";
import { IssuedTokens } from "./issued";
import { ReadToken } from "./look";

export default function Tokens() {
  const issuer = useIssuer();
  return (
    <>
      <Head
        title="Tokens"
        what="Read one, run a route's checks on it, have a trial one made, and end those that are out."
      />
      <Tabs
        label="Of tokens"
        of={[
          [place(issuer, "tokens"), "Read one"],
          [place(issuer, "tokens", "issued"), "Issued"],
        ]}
      />
      <Routes>
        <Route index element={<ReadToken />} />
        <Route path="issued" element={<IssuedTokens />} />
      </Routes>
    </>
  );
}
