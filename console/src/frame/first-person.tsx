// The first page of an empty service: its first person, who proves to have what the first start handed over.
import { ROOT, Refused, asRefused, fetchFrom, query } from "../api/http";
import { Nothing } from "../api/answers";
import { shell } from "../parts/basics";
import { Form, type Values } from "../parts/form";

export function FirstPerson() {
  const add = async (values: Values): Promise<Refused | null> => {
    const credential = read(String(values.credential ?? ""));
    try {
      await fetchFrom(Nothing, ROOT + "/first", {
        method: "POST",
        body: { ...credential, email: values.email, name: values.name, password: values.password },
      });
      window.location.assign(ROOT + "/sign-in" + query({ issuer: "admit", to: "/first-api" }));
      return null;
    } catch (error) {
      return asRefused(error);
    }
  };
  return (
    <main className="mx-auto mt-[6vh] max-w-2xl px-5 pb-10">
      <title>A new service – Admit</title>
      <h1 className="mb-1">This service is new</h1>
      <p className="mb-5 max-w-prose text-faint">
        Nobody can sign in yet. Say who runs it, and prove that you started it: the first start wrote a credential to
        {" " + ""}
        <code>operator-credential.json</code> in its data folder, readable by its owner alone.
      </p>
      <Form
        start={{ email: "", name: "", password: "", credential: "" }}
        submit="Make me the administrator"
        cli={(values) =>
          `admit person add ${shell(String(values.email || "ADDRESS"))} --issuer admit --admin-role administrator`
        }
        onSubmit={(_, values) => add(values)}
        fields={[
          { kind: "text", name: "name", label: "Your name", autoComplete: "name" },
          { kind: "text", name: "email", label: "Your e-mail address", autoComplete: "username" },
          {
            kind: "text",
            name: "password",
            label: "A password",
            secret: true,
            autoComplete: "new-password",
            help: "Ten characters or more; a few words together are good.",
            wide: true,
          },
          {
            kind: "area",
            name: "credential",
            label: "The credential of the first start",
            mono: true,
            rows: 3,
            help: "The whole of the file. It is looked at once, and kept nowhere.",
          },
        ]}
      />
    </main>
  );
}

function read(text: string): { client_id: string; client_secret: string } {
  try {
    const json: unknown = JSON.parse(text);
    if (typeof json === "object" && json !== null) {
      const id = "client_id" in json && typeof json.client_id === "string" ? json.client_id : "";
      const secret = "client_secret" in json && typeof json.client_secret === "string" ? json.client_secret : "";
      return { client_id: id, client_secret: secret };
    }
  } catch {
    // Not the file, then: perhaps id and secret with a space or a colon between.
  }
  const [id = "", secret = ""] = text.trim().split(/[\s:]+/);
  return { client_id: id, client_secret: secret };
}
