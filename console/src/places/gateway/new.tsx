import { useNavigate, useSearchParams } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer, query } from "../../api/http";
import { RouteRevised } from "../../api/answers";
import { place, useIssuer } from "../../frame/issuers";
import { Head } from "../../parts/basics";
import { Meaning } from "../../parts/meaning";
import { type Field, Form } from "../../parts/form";
import { useScopes } from "../../parts/scopes";
import { routeLabel, routeWords } from "../../parts/words";
import {
  LIMIT_FIELDS,
  TARGET_FIELDS,
  TRANSFORM_FIELDS,
  WHAT_FIELDS,
  WHO_FIELDS,
  guardFields,
  routeBody,
  routeValues,
} from "./fields";

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
  fixed_response: null,
  cors: false,
  who: null,
  transform: null,
  timeouts: null,
  limits: null,
  sentences: [],
  version: 0,
  created_at: "",
});

/** What most routes leave as usual, in eight folded sections. */
const FOLDED: Field[] = Object.entries({
  Upstream: TARGET_FIELDS.filter((it) => /^(upstream|transform\/(path|credential|proof))$/.test(it.name)),
  "Fixed response": TARGET_FIELDS.filter((it) => /^(answers|fixed_response\/.*)$/.test(it.name)),
  Callers: WHO_FIELDS.filter((it) => /^who\/(for|clients|roles|issuers|condition)$/.test(it.name)),
  "Browsers and sign-in": [
    ...TARGET_FIELDS.filter((it) => it.name === "cors"),
    ...WHO_FIELDS.filter((it) => /^who\/(sign_in|acr|max_age)$/.test(it.name)),
  ],
  Headers: TRANSFORM_FIELDS.filter((it) => it.name !== "refusals"),
  Refusals: TRANSFORM_FIELDS.filter((it) => it.name === "refusals"),
  Timeouts: TARGET_FIELDS.filter((it) => it.name.startsWith("timeouts/")),
  Limits: LIMIT_FIELDS,
}).flatMap(([section, fields]) => fields.map((field) => ({ ...field, section })));

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
            scopes.map((it) => [it.name, it.consequence_reads.administrator]),
            new Map(scopes.map((it) => [it.name, it.api])),
          ),
          ...FOLDED,
          why,
        ]}
        children={(values) => {
          const body = routeBody(values, null);
          return <Meaning path={ofIssuer(issuer, "routes", "preview")} draft={body.path ? body : null} />;
        }}
        cli={(values) =>
          `admit route add ` +
          routeWords(Array.isArray(values.methods) ? values.methods : [], String(values.path || "PATH"))
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
