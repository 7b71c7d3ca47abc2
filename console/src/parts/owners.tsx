// Who answers for a thing.
import { useState } from "react";
import { useAct } from "../api/changing";
import { ofIssuer, query } from "../api/http";
import { Nothing, Owner, changed } from "../api/answers";
import { useSession } from "../frame/session";
import { Button, Section, shell } from "./basics";
import { Window } from "./dialogs";
import { Form } from "./form";

export function Owners({
  issuer,
  kind,
  name,
  owners,
}: {
  issuer: string;
  kind: "api" | "client";
  name: string;
  owners: string[];
}) {
  const { may } = useSession();
  const act = useAct();
  const [naming, setNaming] = useState(false);
  return (
    <Section
      title="Who answers for it"
      act={may.runPeople && <Button onClick={() => setNaming(true)}>Name a person</Button>}
    >
      {owners.length === 0 && (
        <p className="text-faint">Nobody yet. An owner may see and change it without an admin role.</p>
      )}
      <ul>
        {owners.map((email) => (
          <li
            key={email}
            className="flex items-center justify-between gap-2 border-b border-hair py-1.5 last:border-b-0"
          >
            <span>{email}</span>
            {may.runPeople && (
              <Button
                kind="danger"
                onClick={() =>
                  void act(
                    Nothing,
                    ofIssuer(issuer, "owners") + query({ person: email, [kind]: name }),
                    { method: "DELETE" },
                    () => ({
                      now: `${email} answers for ${name} no longer.`,
                      undo: async () => {
                        await act(
                          Nothing,
                          ofIssuer(issuer, "owners"),
                          { method: "POST", body: { person: email, [kind]: name } },
                          () => ({ now: "Taken back." }),
                        );
                      },
                    }),
                  )
                }
              >
                Release
              </Button>
            )}
          </li>
        ))}
      </ul>
      {naming && (
        <Window open onClose={() => setNaming(false)} title={`Who answers for ${name}`}>
          <Form
            fields={[
              {
                kind: "text",
                name: "person",
                label: "Their address",
                placeholder: "isolde.marrin@saltmarsh.example",
                wide: true,
              },
            ]}
            start={{ person: "" }}
            submit="Name them"
            cli={(values) =>
              `admit owner add ${shell(String(values.person || "ADDRESS"))} --${shell(kind)} ${shell(name)}`
            }
            onSubmit={async (_, values) => {
              const outcome = await act(
                changed(Owner),
                ofIssuer(issuer, "owners"),
                { method: "POST", body: { person: values.person, [kind]: name } },
                () => ({ now: `${String(values.person)} answers for ${name}.` }),
              );
              if (outcome.done) setNaming(false);
              return outcome.done ? null : outcome.refusal;
            }}
          />
        </Window>
      )}
    </Section>
  );
}
