// Which page answers at which address.
import { type ReactNode, Suspense, lazy, useEffect, useState } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { LiveContext, useLive } from "./api/live";
import { Bar } from "./frame/bar";
import { Find } from "./frame/find";
import { ALL, IssuersProvider, useIssuers } from "./frame/issuers";
import { SessionProvider, useSession } from "./frame/session";
import { Button, ButtonLink, Empty, Head, Waiting } from "./parts/basics";

const AccessMap = lazy(() => import("./places/access-map/page"));
const Apis = lazy(() => import("./places/apis/list"));
const Api = lazy(() => import("./places/apis/one"));
const ImportApi = lazy(() => import("./places/apis/import"));
const NewApi = lazy(() => import("./places/apis/new"));
const Clients = lazy(() => import("./places/clients/list"));
const Client = lazy(() => import("./places/clients/one"));
const NewClient = lazy(() => import("./places/clients/new"));
const Approvals = lazy(() => import("./places/approvals/page"));
const Gateway = lazy(() => import("./places/gateway/page"));
const GatewayRoute = lazy(() => import("./places/gateway/route"));
const NewRoute = lazy(() => import("./places/gateway/new"));
const Tokens = lazy(() => import("./places/tokens/page"));
const Decisions = lazy(() => import("./places/decisions/page"));
const Decision = lazy(() => import("./places/decisions/one"));
const Watch = lazy(() => import("./places/decisions/watch"));
const Call = lazy(() => import("./places/call/page"));
const People = lazy(() => import("./places/people/page"));
const Person = lazy(() => import("./places/people/one"));
const NewPerson = lazy(() => import("./places/people/new"));
const Keys = lazy(() => import("./places/keys/page"));
const Review = lazy(() => import("./places/review/page"));
const Settings = lazy(() => import("./places/settings/page"));
const FirstApi = lazy(() => import("./frame/first-api"));

export function App() {
  return (
    <SessionProvider>
      <WithLive>
        <Routes>
          <Route path="/" element={<Home />} />
          <Route
            path="/first-api"
            element={
              <Framed>
                <FirstApi />
              </Framed>
            }
          />
          <Route
            path="/:issuer/*"
            element={
              <Framed>
                <Places />
              </Framed>
            }
          />
        </Routes>
      </WithLive>
    </SessionProvider>
  );
}

function WithLive({ children }: { children: ReactNode }) {
  return <LiveContext.Provider value={useLive()}>{children}</LiveContext.Provider>;
}

/** An owner has no map of everything; an empty service begins with its first API. */
function Home() {
  return (
    <IssuersProvider>
      <Begin />
    </IssuersProvider>
  );
}

function Begin() {
  const { who } = useSession();
  const { all } = useIssuers();
  const others = all.filter((it) => it.name !== "admit");
  if (!who.admin_role) return <Navigate replace to={`/${who.issuer}/apis`} />;
  if (who.all && others.length === 0) return <Navigate replace to="/first-api" />;
  const first = who.all ? (others.length === 1 ? others[0] : undefined) : all[0];
  return <Navigate replace to={`/${first ? first.name : ALL}`} />;
}

function Framed({ children }: { children: ReactNode }) {
  const [finding, setFinding] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        setFinding((open) => !open);
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  const { pathname } = useLocation();
  return (
    <IssuersProvider>
      <Bar onFind={() => setFinding(true)} />
      <main id="page" tabIndex={-1} className="mx-auto max-w-[84rem] px-4 py-5 outline-none sm:px-6">
        <ErrorBoundary FallbackComponent={Failed} resetKeys={[pathname]}>
          <Suspense fallback={<Waiting what="the page" />}>{children}</Suspense>
        </ErrorBoundary>
      </main>
      <Find open={finding} onClose={() => setFinding(false)} />
    </IssuersProvider>
  );
}

function Places() {
  return (
    <Routes>
      <Route index element={<AccessMap />} />
      <Route path="apis" element={<Apis />} />
      <Route path="apis/new" element={<NewApi />} />
      <Route path="apis/import" element={<ImportApi />} />
      <Route path="apis/:api" element={<Api />} />
      <Route path="clients" element={<Clients />} />
      <Route path="clients/new" element={<NewClient />} />
      <Route path="clients/:client" element={<Client />} />
      <Route path="approvals" element={<Approvals />} />
      <Route path="gateway/new" element={<NewRoute />} />
      <Route path="gateway/routes/:route" element={<GatewayRoute />} />
      <Route path="gateway/*" element={<Gateway />} />
      <Route path="tokens/*" element={<Tokens />} />
      <Route path="decisions" element={<Decisions />} />
      <Route path="decisions/watch" element={<Watch />} />
      <Route path="decisions/:decision" element={<Decision />} />
      <Route path="call" element={<Call />} />
      <Route path="people/new" element={<NewPerson />} />
      <Route path="people/fields" element={<People />} />
      <Route path="people/owners" element={<People />} />
      <Route path="people" element={<People />} />
      <Route path="people/:person" element={<Person />} />
      <Route path="keys" element={<Keys />} />
      <Route path="review/*" element={<Review />} />
      <Route path="settings/*" element={<Settings />} />
      <Route
        path="*"
        element={
          <>
            <Head title="There is no such page" />
            <Empty title="Nothing is at this address" act={<ButtonLink to="/">To the access map</ButtonLink>}>
              It may be of an older console, or misspelt.
            </Empty>
          </>
        }
      />
    </Routes>
  );
}

/** A page that fails takes only itself down, and says so. */
function Failed({ error }: { error: unknown }) {
  const said = error instanceof Error ? error.message : "unknown";
  return (
    <Empty title="This page failed" act={<Button onClick={() => window.location.reload()}>Load it again</Button>}>
      {/import|fetch|module/i.test(said)
        ? "A part of it could not be loaded. The service may have been brought up to date since the page was opened."
        : said}
    </Empty>
  );
}
