import { useNavigate, useSearchParams } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer, query } from "../../api/http";
import { RouteRevised } from "../../api/shapes";
import { place, useIssuer } from "../../frame/issuers";
import { Head, shell } from "../../parts/basics";
import { type Field, Form } from "../../parts/form";
import { useScopes } from "../../parts/scopes";
import { routeLabel } from "../../parts/words";
import { LIMIT_FIELDS, TARGET_FIELDS, WHAT_FIELDS, WHO_FIELDS, guardFields, routeBody, routeValues } from "./fields";

const EMPTY = routeValues({
  id: "",
  methods: [],
  path: "",
  api: null,
  scopes: [],
  mode: null,
  open: false,
  any_scope: false,
  upstream: null,
  answer: null,
  cors: false,
  who: null,
  shaping: null,
  limits: null,
  version: 0,
  created_at: "",
});

export default function NewRoute() {
  const issuer = useIssuer();
  const act = useAct();
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const scopes = useScopes(issuer);
  const apis = [...new Set(scopes.map((it) => it.api))];
  const why: Field = {
    kind: "text",
    name: "why",
    label: "Why",
    cli: "--why",
    wide: true,
    help: "Kept with the revision.",
  };
  return (
    <>
      <Head
        title="Add a route"
        what="Which requests, what they need, and where they go. It is live when it is saved."
      />
      <Form
        start={{ ...EMPTY, api: params.get("api") ?? "" }}
        submit="Add it"
        onCancel={() => void navigate(-1)}
        fields={[
          ...WHAT_FIELDS,
          ...guardFields(
            apis,
            scopes.map((it) => [it.name, it.words]),
            new Map(scopes.map((it) => [it.name, it.api])),
          ),
          ...TARGET_FIELDS,
          ...WHO_FIELDS,
          ...LIMIT_FIELDS,
          why,
        ]}
        cli={(values) =>
          `admit route add ` +
          `${Array.isArray(values.methods) && values.methods.length > 0 ? values.methods.join(",") : "ANY"} ` +
          `${shell(String(values.path || "PATH"))}`
        }
        onSubmit={async (_, values) => {
          // Scopes of an API that was chosen before are no longer shown, and not meant.
          const theirs = Array.isArray(values.scopes)
            ? values.scopes.filter((name) => scopes.some((it) => it.name === name && it.api === values.api))
            : [];
          const outcome = await act(
            RouteRevised,
            ofIssuer(issuer, "routes") + query({ why: typeof values.why === "string" ? values.why : "" }),
            { method: "POST", body: routeBody({ ...values, scopes: theirs }, null) },
            (made) => ({ now: `${routeLabel(made.now)} is live, as revision ${made.revision}.` }),
          );
          if (!outcome.done) return outcome.refusal;
          void navigate(place(issuer, "gateway", "routes", outcome.value.now.id));
          return null;
        }}
      />
    </>
  );
}
