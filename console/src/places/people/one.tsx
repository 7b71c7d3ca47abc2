import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../api/changing";
import { ofIssuer, query } from "../../api/http";
import { useThing } from "../../api/reading";
import { Person, changed } from "../../api/answers";
import { place, useIssuer } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import {
  Button,
  ButtonLink,
  Facts,
  Head,
  Line,
  Section,
  Sentences,
  Show,
  Tag,
  WithRail,
  shell,
} from "../../parts/basics";
import { Removal, Sure } from "../../parts/dialogs";
import { Editable } from "../../parts/editable";
import { type Values } from "../../parts/form";
import { Told } from "../../parts/mark";
import { Time } from "../../parts/time";
import { joined } from "../../parts/words";
import { profileFields, rightsFields, usePersonFields } from "./fields";

const Changed = changed(Person);

export default function PersonPage() {
  const issuer = useIssuer();
  const { person: id = "" } = useParams();
  const path = ofIssuer(issuer, "people", id);
  const { may, who } = useSession();
  const act = useAct();
  const navigate = useNavigate();
  const person = useThing(Person, path);
  const { fields, roles } = usePersonFields(issuer);
  const run = async (what: string, said: string) => {
    const outcome = await act(Changed, `${path}/${what}`, { method: "POST" }, () => ({ now: said }));
    return outcome.done ? null : outcome.refusal;
  };
  return (
    <Show of={person} what="the person">
      {(it, etag) => {
        const values = (one: Person): Values => ({
          email: one.email,
          admin_role: one.admin_role ?? "",
          roles: one.roles,
          ...Object.fromEntries(fields.map((field) => [`profile/${field.name}`, one.profile[field.name] ?? ""])),
        });
        const common = {
          path,
          shape: Person,
          answer: Changed,
          valuesOf: values,
          thing: it,
          etag,
          may: may.runPeople,
          said: `${it.name} is changed.`,
          cli: `admit person change ${shell(it.email)}`,
        };
        return (
          <>
            <Head
              title={it.name}
              what={
                <span className="flex flex-wrap items-center gap-x-3">
                  <span>{it.email}</span>
                  {!it.email_verified && <Tag tone="weak">address not proven</Tag>}
                  {!it.enabled && <Told verdict="ended">switched off</Told>}
                </span>
              }
              next={
                <>
                  <ButtonLink to={place(issuer, "decisions") + query({ person: it.email })}>Decisions</ButtonLink>
                  {may.runPeople && (
                    <Button
                      onClick={() =>
                        void run(
                          it.enabled ? "off" : "on",
                          it.enabled
                            ? `${it.name} is off: tokens on their behalf are refused from the next request on.`
                            : `${it.name} may sign in again.`,
                        )
                      }
                    >
                      {it.enabled ? "Switch off" : "Switch on"}
                    </Button>
                  )}
                  {may.runPeople && it.id !== who.id && (
                    <Removal
                      label="Remove"
                      title={`Remove ${it.name}`}
                      explain={
                        "With their sessions and approvals; tokens on their behalf are " +
                        "refused from the next request on."
                      }
                      path={path}
                      said={`${it.name} is removed.`}
                      onDone={() => void navigate(place(issuer, "people"))}
                    />
                  )}
                </>
              }
            />
            <WithRail
              rail={
                <>
                  <Sentences
                    of={[
                      it.roles.length === 0
                        ? "They may use only what is open to all."
                        : `They may do what the ${it.roles.length === 1 ? "role" : "roles"} ` +
                          `${joined(it.roles)} ${it.roles.length === 1 ? "has" : "have"}, and what is open to all.`,
                      it.admin_role ? `Admin role they are ${it.admin_role}.` : "They have no admin role.",
                      it.has_factor ? "They have a second factor." : "They have no second factor.",
                      `Signed in at ${it.sessions.length} ${it.sessions.length === 1 ? "place" : "places"}.`,
                    ]}
                  />
                  <div className="mt-3">
                    <Line>{`admit person show ${shell(it.email)}`}</Line>
                  </div>
                </>
              }
            >
              <Editable
                {...common}
                title="Profile"
                fields={[{ kind: "text", name: "email", label: "E-mail address" }, ...profileFields(fields)]}
              />
              <Editable {...common} title="What they may do" fields={rightsFields(roles)} />
              <Section
                title="Signing in"
                act={
                  may.runPeople && (
                    <span className="flex flex-wrap gap-2">
                      <Sure
                        label="Mail a code for another password"
                        title="Mail them a code"
                        explain="With it they choose another password. The one that they have goes on until then."
                        yes="Mail it"
                        kind="plain"
                        onYes={() => run("reset-password", `A code is on its way to ${it.email}, or in the outbox.`)}
                      />
                      {it.has_factor && (
                        <Sure
                          label="Take the second factor away"
                          title="Take the second factor away"
                          explain="For a person who lost the second factor. They can set up another."
                          yes="Take it away"
                          onYes={() => run("reset-factor", `${it.name} has no second factor any more.`)}
                        />
                      )}
                      {it.sessions.length > 0 && (
                        <Sure
                          label="Sign them out everywhere"
                          title="Sign them out everywhere"
                          explain="Tokens on their behalf are refused from the next request on."
                          yes="Sign out"
                          onYes={() => run("end-sessions", `${it.name} is signed out everywhere.`)}
                        />
                      )}
                    </span>
                  )
                }
              >
                <Facts
                  of={[
                    ["Password", it.has_password ? "chosen" : "none yet"],
                    ["Second factor", it.has_factor ? "set up" : "none"],
                  ]}
                />
                <ul className="mt-3">
                  {it.sessions.map((one) => (
                    <li key={one.id} className="border-b border-hair py-1.5 last:border-b-0">
                      <Time at={one.signed_in_at} /> from <span className="mono">{one.from}</span>, ends{" "}
                      <Time at={one.ends_at} />{" "}
                      <span className="block truncate text-[0.8125rem] text-faint">{one.agent}</span>
                    </li>
                  ))}
                </ul>
              </Section>
              <Section title="What they approved">
                {it.approved.length === 0 && <p className="text-faint">Nothing for themselves.</p>}
                <ul>
                  {it.approved.map((one) => (
                    <li key={one.client_id + one.scope} className="border-b border-hair py-1.5 last:border-b-0">
                      <Link to={place(issuer, "clients", one.client)}>{one.client}</Link>:{" "}
                      <span className="mono">{one.scope}</span>, <Time at={one.granted_at} />
                    </li>
                  ))}
                </ul>
              </Section>
            </WithRail>
          </>
        );
      }}
    </Show>
  );
}
