import { useNavigate } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer } from "../../api/http";
import { Person, changed } from "../../api/answers";
import { place, useIssuer } from "../../frame/issuers";
import { Head, shell } from "../../parts/basics";
import { Form, type Values } from "../../parts/form";
import { profileFields, rightsFields, usePersonFields } from "./fields";

export default function NewPerson() {
  const issuer = useIssuer();
  const act = useAct();
  const navigate = useNavigate();
  const { fields, roles } = usePersonFields(issuer);
  const start: Values = {
    email: "",
    password: "",
    admin_role: "",
    roles: [],
    ...Object.fromEntries(fields.map((it) => [`profile/${it.name}`, ""])),
  };
  return (
    <>
      <Head
        title="Add a person"
        what={
          <>
            To the issuer <code>{issuer}</code>. Without a password they are invited by mail.
          </>
        }
      />
      <Form
        key={fields.length}
        start={start}
        submit="Add them"
        onCancel={() => void navigate(-1)}
        cli={(values) => `admit person add ${shell(String(values.email || "ADDRESS"))}`}
        fields={[
          { kind: "text", name: "email", label: "E-mail address", autoComplete: "off" },
          {
            kind: "text",
            name: "password",
            label: "A password, or none for an invitation",
            secret: true,
            autoComplete: "new-password",
          },
          ...profileFields(fields),
          ...rightsFields(roles),
        ]}
        onSubmit={async (body, values) => {
          const outcome = await act(changed(Person), ofIssuer(issuer, "people"), { method: "POST", body }, () => ({
            now: values.password
              ? `${String(values.email)} can sign in.`
              : `${String(values.email)} is invited; the mail is on its way, or in the outbox.`,
          }));
          if (!outcome.done) return outcome.refusal;
          void navigate(place(issuer, "people", outcome.value.now.id));
          return null;
        }}
      />
    </>
  );
}
