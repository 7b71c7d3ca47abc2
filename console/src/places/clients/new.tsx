import { useState } from "react";
import { useNavigate } from "react-router";
import type * as v from "valibot";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { ClientMade, type SecretOnce } from "../../api/answers";
import { place, useIssuer } from "../../frame/issuers";
import { Head, shell } from "../../parts/basics";
import { Form } from "../../parts/form";
import { Meaning } from "../../parts/meaning";
import { useScopes } from "../../parts/scopes";
import { SecretShown } from "../../parts/secret";
import { KINDS } from "../../parts/words";
import { TEXT_FIELDS } from "./fields";

export default function NewClient() {
  const issuer = useIssuer();
  const act = useAct();
  const navigate = useNavigate();
  const scopes = useScopes(issuer);
  const [made, setMade] = useState<{ name: string; secret: v.InferOutput<typeof SecretOnce> } | null>(null);
  return (
    <>
      <Head
        title="Register a client"
        what={
          <>
            With the issuer <code>{issuer}</code>. Requesting a scope grants nothing: an administrator or each person
            approves.
          </>
        }
      />
      <Form
        start={{
          name: "",
          kind: "machine",
          client_name: "",
          description: "",
          contacts: [],
          links: [],
          tags: [],
          redirect_uris: [],
          origins: [],
          token_endpoint_auth_method: "",
          scopes: [],
          secret_lifetime: "",
        }}
        submit="Register it"
        onCancel={() => void navigate(-1)}
        children={(_, draft) => (
          <Meaning path={ofIssuer(issuer, "clients", "preview")} draft={draft.name ? draft : null} />
        )}
        cli={(values) => `admit client add ${shell(String(values.name || "NAME"))}`}
        fields={[
          {
            kind: "text",
            name: "name",
            label: "Name",
            mono: true,
            placeholder: "tide-buoy-08",
            help: "Lower-case words with hyphens.",
          },
          { kind: "choice", name: "kind", label: "Who runs it", cli: "--kind", choices: KINDS },
          {
            kind: "choice",
            name: "token_endpoint_auth_method",
            label: "How it proves itself",
            cli: "--token-endpoint-auth-method",
            choices: [
              ["", "by a secret, as usual"],
              ["client_secret_post", "by a secret, in the form"],
              ["private_key_jwt", "by a key of its own"],
            ],
            when: (values) => values.kind === "machine" || values.kind === "web",
          },
          {
            kind: "text",
            name: "jwks_uri",
            label: "Where its keys are",
            cli: "--jwks-uri",
            mono: true,
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
          },
          {
            kind: "text",
            name: "secret_lifetime",
            label: "The secret expires after",
            cli: "--secret-lifetime",
            placeholder: "90d",
            when: (values) =>
              (values.kind === "machine" || values.kind === "web") &&
              values.token_endpoint_auth_method !== "private_key_jwt",
          },
          {
            kind: "lines",
            name: "redirect_uris",
            label: "Redirect URIs",
            cli: "--redirect-uri",
            placeholder: "http://127.0.0.1:9495/back",
            help: "Where people are sent back to, character by character.",
            when: (values) => values.kind !== "machine" && values.kind !== "device",
          },
          {
            kind: "lines",
            name: "origins",
            label: "Origins of its pages",
            cli: "--origin",
            when: (values) => values.kind === "browser",
          },
          {
            kind: "several",
            name: "scopes",
            label: "Which scopes it requests",
            cli: "--scope",
            choices: scopes.map((it): [string, string] => [it.name, it.consequence_reads.administrator]),
            none: "No API has a scope yet.",
          },
          ...TEXT_FIELDS.map((it) => (it.name === "client_name" ? it : { ...it, section: "Purpose and contacts" })),
        ]}
        onSubmit={async (body, values) => {
          const outcome = await act(ClientMade, ofIssuer(issuer, "clients"), { method: "POST", body }, () => ({
            now: `The client ${String(values.name)} is registered.`,
          }));
          if (!outcome.done) return outcome.refusal;
          const { now, secret } = outcome.value;
          if (secret) setMade({ name: now.name, secret });
          else void navigate(place(issuer, "clients", now.name));
          return null;
        }}
      />
      {made && <SecretShown of={made.secret} onClose={() => void navigate(place(issuer, "clients", made.name))} />}
    </>
  );
}
