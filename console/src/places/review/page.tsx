import { Route, Routes } from "react-router";
import { place, useIssuer } from "../../frame/issuers";
import { Head } from "../../parts/basics";
import { Tabs } from "../../parts/tabs";
import { Audit } from "./audit";
import { Findings } from "./findings";

export default function Review() {
  const issuer = useIssuer();
  return (
    <>
      <Head title="Review" what="What is weak, unused or expiring; and who changed what." />
      <Tabs
        label="Of the review"
        of={[
          [place(issuer, "review"), "Worth a look"],
          [place(issuer, "review", "audit"), "Audit"],
        ]}
      />
      <Routes>
        <Route index element={<Findings />} />
        <Route path="audit" element={<Audit />} />
      </Routes>
    </>
  );
}
