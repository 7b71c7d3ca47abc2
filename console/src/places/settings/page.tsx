import { Route, Routes } from "react-router";
import { place, useIssuer } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Head } from "../../parts/basics";
import { Tabs } from "../../parts/tabs";
import { Display } from "./display";
import { IssuerSettings, Issuers } from "./issuers";
import { Look } from "./look";
import { Outbox } from "./outbox";
import { Registration } from "./registration";
import { Service } from "./service";
import { SetupFile } from "./setup";

export default function Settings() {
  const issuer = useIssuer();
  const { who } = useSession();
  const at = (...parts: string[]) => place(issuer, "settings", ...parts);
  return (
    <>
      <Head title="Settings" />
      <Tabs
        label="Of the settings"
        of={[
          [at(), "Issuers"],
          [at("issuer"), "Issuer"],
          [at("registration"), "Registration"],
          [at("look"), "Look of its pages"],
          [at("setup"), "Setup file"],
          [at("outbox"), "Outbox"],
          ...(who.all ? [[at("service"), "Service"] as [string, string]] : []),
          [at("display"), "Display"],
        ]}
      />
      <Routes>
        <Route index element={<Issuers />} />
        <Route path="issuer" element={<IssuerSettings />} />
        <Route path="registration" element={<Registration />} />
        <Route path="look" element={<Look />} />
        <Route path="setup" element={<SetupFile />} />
        <Route path="outbox" element={<Outbox />} />
        <Route path="service" element={<Service />} />
        <Route path="display" element={<Display />} />
      </Routes>
    </>
  );
}
