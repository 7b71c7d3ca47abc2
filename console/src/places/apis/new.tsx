import { useNavigate } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { Api, changed } from "../../api/answers";
import { place, useIssuer } from "../../frame/issuers";
import { Head, shell } from "../../parts/basics";
import { Form } from "../../parts/form";
import { Meaning } from "../../parts/meaning";
import { API_FIELDS } from "./fields";

export default function NewApi() {
  const issuer = useIssuer();
  const act = useAct();
  const navigate = useNavigate();
  return (
    <>
      <Head
        title="Add an API"
        what={
          <>
            To the issuer <code>{issuer}</code>. Scopes come next.
          </>
        }
      />
      <Form
        fields={[
          {
            kind: "text",
            name: "name",
            label: "Name",
            mono: true,
            required: true,
            placeholder: "lighthouse",
            help: "Lower-case words with hyphens. Scope names begin with it.",
          },
          ...API_FIELDS,
        ]}
        start={{ name: "", title: "", upstream: "", audience: "", outside_domains: false }}
        submit="Add it"
        onCancel={() => void navigate(-1)}
        children={(_, draft) => (
          <Meaning path={ofIssuer(issuer, "apis", "preview")} draft={draft.name ? draft : null} />
        )}
        cli={(values) => `admit api add ${shell(String(values.name || "NAME"))}`}
        onSubmit={async (body, values) => {
          const outcome = await act(changed(Api), ofIssuer(issuer, "apis"), { method: "POST", body }, () => ({
            now: `The API ${String(values.name)} is there.`,
          }));
          if (!outcome.done) return outcome.refusal;
          void navigate(place(issuer, "apis", outcome.value.now.name));
          return null;
        }}
      />
    </>
  );
}
