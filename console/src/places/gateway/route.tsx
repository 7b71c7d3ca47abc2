import { useNavigate, useParams } from "react-router";
import { ofIssuer, query } from "../../api/http";
import { useThing } from "../../api/reading";
import { Placeholder, Route, RouteRevised, page } from "../../api/answers";
import { place, useIssuer } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { ButtonLink, Head, Line, Sentences, Show, Tag, WithRail } from "../../parts/basics";
import { Removal } from "../../parts/dialogs";
import { Editable } from "../../parts/editable";
import { useScopes } from "../../parts/scopes";
import { routeLabel, routeWords } from "../../parts/words";
import {
  LIMIT_FIELDS,
  TRANSFORM_FIELDS,
  TARGET_FIELDS,
  WHAT_FIELDS,
  WHO_FIELDS,
  guardFields,
  routeValues,
  routeWith,
} from "./fields";

export default function RoutePage() {
  const issuer = useIssuer();
  const { route: id = "" } = useParams();
  const path = ofIssuer(issuer, "routes", id);
  const { may, who } = useSession();
  const navigate = useNavigate();
  const route = useThing(Route, path);
  const scopes = useScopes(issuer);
  const apis = [...new Set(scopes.map((it) => it.api))];
  return (
    <Show of={route} what="the route">
      {(it, etag) => {
        const label = routeLabel(it);
        const cli = `admit route change ${routeWords(it.methods, it.path)}`;
        const theirs = scopes
          .filter((scope) => scope.api === it.api)
          .map((scope): [string, string] => [scope.name, scope.consequence_reads.administrator]);
        const common = {
          path,
          shape: Route,
          answer: RouteRevised,
          valuesOf: routeValues,
          thing: it,
          etag,
          may: may.change && who.admin_role !== null,
          said: `${label} is changed, and live.`,
          cli,
          whole: routeWith,
          asksWhy: true,
        };
        return (
          <>
            <Head
              title={label}
              what={
                <span className="flex gap-2">
                  {it.open && <Tag tone="weak">open to anyone</Tag>}
                  {it.any_scope && <Tag tone="weak">any scope</Tag>}
                  {it.fixed_response && <Tag>fixed response</Tag>}
                  {it.cors && <Tag>pages may call it</Tag>}
                </span>
              }
              next={
                <>
                  {may.change && who.admin_role && (
                    <ButtonLink
                      kind="act"
                      to={
                        place(issuer, "call") +
                        query({
                          method: it.methods[0] ?? "GET",
                          path: it.path.replace(/\/\*\*$/, "/x").replaceAll(/\{([^}]+)\}/g, "$1"),
                          scope: it.scopes[0],
                        })
                      }
                    >
                      Call it
                    </ButtonLink>
                  )}
                  <ButtonLink to={place(issuer, "decisions") + query({ route: label })}>Its decisions</ButtonLink>
                  {may.change && who.admin_role && (
                    <Removal
                      label="Remove"
                      title={`Remove ${label}`}
                      explain={
                        "Its path is answered with 404 from the next request on. The " +
                        "revision before can be restored."
                      }
                      path={path}
                      said={`${label} is removed.`}
                      onDone={() => void navigate(place(issuer, "gateway"))}
                    />
                  )}
                </>
              }
            />
            <WithRail
              rail={
                <>
                  <Sentences of={it.sentences} />
                  <div className="mt-3">
                    <Line>{`admit route show ${routeWords(it.methods, it.path)}`}</Line>
                  </div>
                </>
              }
            >
              <Editable {...common} title="Which requests" fields={WHAT_FIELDS} />
              <Editable {...common} title="What is needed" fields={guardFields(apis, theirs)} />
              {!it.open && <Editable {...common} title="Who passes" fields={WHO_FIELDS} />}
              <Editable {...common} title="Where it goes" fields={TARGET_FIELDS} />
              <Editable
                {...common}
                title="What is set and removed"
                fields={TRANSFORM_FIELDS}
                extra={<Examples path={path} />}
              />
              <Editable {...common} title="Limits" fields={LIMIT_FIELDS} />
            </WithRail>
          </>
        );
      }}
    </Show>
  );
}

/** What texts are filled in with, as the last request had it. */
function Examples({ path }: { path: string }) {
  const list = useThing(page(Placeholder), `${path}/placeholders`);
  return (
    <Show of={list} what="the placeholders">
      {(it) => (
        <table className="mt-3 w-full text-[0.875rem]">
          <caption className="mb-1 text-left text-faint">
            What texts may be filled in with, and what it was in the last request
          </caption>
          <tbody>
            {it.items.map((one) => (
              <tr key={one.name} className="border-t border-hair align-top">
                <td className="mono py-1 pr-3">{`{{${one.name}}}`}</td>
                <td className="py-1 pr-3">{one.means}</td>
                <td className="mono py-1 break-all">{one.example}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Show>
  );
}
