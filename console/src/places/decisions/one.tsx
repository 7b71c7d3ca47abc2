import { Link, useParams } from "react-router";
import { at, query } from "../../api/http";
import { useThing } from "../../api/reading";
import { Explained } from "../../api/answers";
import { place, useTarget } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { ButtonLink, Facts, Head, Line, Section, Sentences, Show, shell } from "../../parts/basics";
import { Mark } from "../../parts/mark";
import { Time, micros } from "../../parts/time";
import { Checks, FixShown, issuerOf, sentence } from "./parts";

export default function DecisionPage() {
  const { decision: id = "" } = useParams();
  const target = useTarget();
  const { may, who } = useSession();
  const explained = useThing(Explained, at("decisions", id, "explained"));
  return (
    <Show of={explained} what="the decision">
      {({ sentences, decision: it }) => {
        const issuer = issuerOf(it, target);
        const admitted = it.verdict === "admitted";
        const again = query({ method: it.method, path: it.path, client: it.client, scope: it.scopes, from: it.id });
        return (
          <>
            <Head
              title={sentence(it)}
              what={
                <span className="flex flex-wrap items-center gap-x-3">
                  <span className="inline-flex items-start gap-1.5">
                    <Mark verdict={admitted ? "admitted" : "refused"} />
                    {it.verdict}, answered {it.answered}
                  </span>
                  <Time at={it.at} exact />
                  <span className="mono">{it.id}</span>
                </span>
              }
              next={
                it.endpoint === "gateway" &&
                may.change &&
                who.admin_role && (
                  <ButtonLink kind="act" to={place(issuer, "call") + again}>
                    Send it again, with a change
                  </ButtonLink>
                )
              }
            />
            <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
              <div className="min-w-0">
                <Checks of={it} />
                <FixShown of={it} issuer={issuer} />
                <div className="mt-5 border-t border-hair pt-5">
                  <Section title="What was done to the request">
                    <Sentences of={it.done} none="Nothing: it went no further." />
                  </Section>
                </div>
              </div>
              <aside aria-label="About it" className="h-fit rounded border border-hair bg-raised px-4 py-3">
                <h2 className="mb-2">In sentences</h2>
                <Sentences of={sentences} />
                <h2 className="mt-4 mb-2">About it</h2>
                <Facts
                  of={[
                    [
                      "Client",
                      it.client ? (
                        <Link key="c" to={place(issuer, "clients", it.client)}>
                          {it.client}
                        </Link>
                      ) : (
                        it.client_id || "unknown caller"
                      ),
                    ],
                    ...(it.subject && it.subject !== it.client_id
                      ? [
                          [
                            "Person",
                            <Link key="p" to={place(issuer, "people", it.subject)}>
                              {it.subject}
                            </Link>,
                          ] as [string, React.ReactNode],
                        ]
                      : []),
                    ["Issuer", it.issuer || "none"],
                    [
                      "Route",
                      it.route ? (
                        <span key="r" className="mono break-all">
                          {it.route}
                        </span>
                      ) : (
                        "none"
                      ),
                    ],
                    ["Revision", it.revision > 0 ? String(it.revision) : "none"],
                    [
                      "API",
                      it.api ? (
                        <Link key="a" to={place(issuer, "apis", it.api)}>
                          {it.api}
                        </Link>
                      ) : (
                        "none"
                      ),
                    ],
                    [
                      "Scopes",
                      <span key="s" className="mono break-words">
                        {it.scopes || "none"}
                      </span>,
                    ],
                    [
                      "From",
                      <span key="f" className="mono">
                        {it.from}
                      </span>,
                    ],
                    ["Endpoint", it.endpoint],
                    ["Took", micros(it.micros)],
                  ]}
                />
                <div className="mt-3">
                  <Line>{`admit explain ${shell(it.id)}`}</Line>
                </div>
              </aside>
            </div>
          </>
        );
      }}
    </Show>
  );
}
