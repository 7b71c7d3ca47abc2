// The access map: callers, approvals, scopes, routes, and what passed. The answer to "who can call what", and to "why
// not".
import { useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ofIssuer, query } from "../../api/http";
import { useThing } from "../../api/reading";
import { AccessMap as AccessMapShape, type AccessMap } from "../../api/answers";
import { ALL, place, useIssuer, useIssuers } from "../../frame/issuers";
import { useSession } from "../../frame/session";
import { Button, ButtonLink, Empty, Head, Line, Show, shell } from "../../parts/basics";
import { Mark, Told } from "../../parts/mark";
import { Time, count } from "../../parts/time";
import { routeLabel } from "../../parts/words";
import { type Requested, type Drawn, ROW, type Spot, UNKNOWN, draw, reach, thickness } from "./map";

export default function AccessMapPage() {
  const chosen = useIssuer();
  const { all } = useIssuers();
  const others = all.filter((it) => it.name !== "admit");
  if (chosen !== ALL) return <OfIssuer issuer={chosen} />;
  return (
    <>
      <Head title="Access map" what="Who can call what. Each issuer has its own; choose one." />
      <ul className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
        {[...others, ...all.filter((it) => it.name === "admit")].map((it) => (
          <li key={it.name}>
            <Link
              to={`/${it.name}`}
              className={
                "plain block rounded border border-hair bg-raised px-4 py-3 " + "hover:border-accent hover:no-underline"
              }
            >
              <span className="block font-semibold">{it.title}</span>
              <span className="mono text-faint">{it.url}</span>
            </Link>
          </li>
        ))}
      </ul>
    </>
  );
}

function OfIssuer({ issuer }: { issuer: string }) {
  const { may } = useSession();
  const [params, setParams] = useSearchParams();
  const search = params.get("search") ?? "";
  const members = params.get("members") ?? "";
  const since = params.get("since") ?? "7d";
  const [typed, setTyped] = useState(search);
  const put = (name: string, value: string) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (value === "") next.delete(name);
        else next.set(name, value);
        return next;
      },
      { replace: true },
    );
  const accessMap = useThing(AccessMapShape, ofIssuer(issuer, "access-map") + query({ search, members, since }), {
    keep: true,
  });
  return (
    <>
      <Head
        title="Access map"
        what="Who can call what: callers, what was approved, scopes, routes. Lines are as thick as what passed."
        next={
          may.change && (
            <>
              <ButtonLink to={place(issuer, "clients", "new")}>Register a client</ButtonLink>
              <ButtonLink to={place(issuer, "call")} kind="act">
                Call a route
              </ButtonLink>
            </>
          )
        }
      />
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <form
          role="search"
          className="flex items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            put("members", "");
            put("search", typed.trim());
          }}
        >
          <input
            className="field !w-56"
            type="search"
            aria-label="Clients whose name, title or tag holds"
            placeholder="Find among clients"
            value={typed}
            onChange={(event) => {
              setTyped(event.target.value);
              if (event.target.value === "") put("search", "");
            }}
          />
          <Button type="submit">Find</Button>
        </form>
        <label className="flex items-center gap-2 text-faint">
          What passed in
          <select className="field !w-auto" value={since} onChange={(event) => put("since", event.target.value)}>
            <option value="1h">the last hour</option>
            <option value="1d">the last day</option>
            <option value="7d">7 days</option>
            <option value="30d">30 days</option>
          </select>
        </label>
        {members && <Button onClick={() => put("members", "")}>All callers again</Button>}
      </div>
      <Show of={accessMap} what="the access map">
        {(value) => (
          <Shown
            issuer={issuer}
            accessMap={value}
            narrowed={search !== "" || members !== ""}
            onMembers={(id) => put("members", id)}
          />
        )}
      </Show>
    </>
  );
}

function Shown({
  issuer,
  accessMap,
  narrowed,
  onMembers,
}: {
  issuer: string;
  accessMap: AccessMap;
  narrowed: boolean;
  onMembers: (id: string) => void;
}) {
  const drawn = useMemo(() => draw(accessMap), [accessMap]);
  const [chosen, setChosen] = useState<string | null>(null);
  const picked = chosen !== null && drawn.spots.has(chosen) ? chosen : null;
  if (accessMap.scopes.length === 0 && !narrowed)
    return (
      <Empty
        title="Nothing crosses here yet"
        act={
          <ButtonLink kind="act" to="/first-api">
            Protect the first API
          </ButtonLink>
        }
      >
        An API with a scope, a client that requests it, an approval and a route make the first line.
      </Empty>
    );
  if (accessMap.callers.length === 0 && narrowed)
    return <Empty title="No client fits">Names, titles, owners and tags are looked at.</Empty>;
  const shownMembers = accessMap.callers.reduce((total, it) => total + it.members, 0);
  return (
    <>
      <p className="mb-2 flex flex-wrap gap-x-5 gap-y-1 text-[0.8125rem] text-faint">
        <span>
          {count(accessMap.clients)} {accessMap.clients === 1 ? "client" : "clients"}
          {accessMap.together ? ", those that may do the same put together" : ""}
          {shownMembers < accessMap.clients ? `; the ${count(shownMembers)} busiest are shown` : ""}
        </span>
        <Told verdict="admitted">granted</Told>
        <Told verdict="waiting">waits for approval</Told>
        <Told verdict="refused">refused</Told>
        <span>dashed: granted, never used</span>
      </p>
      <div className="hidden md:block">
        <Picture
          drawn={drawn}
          chosen={picked}
          onChoose={(key) => setChosen((before) => (before === key ? null : key))}
        />
      </div>
      <div className="md:hidden">
        <AsList issuer={issuer} accessMap={accessMap} drawn={drawn} />
      </div>
      {picked && (
        <Meaning
          issuer={issuer}
          accessMap={accessMap}
          drawn={drawn}
          chosen={picked}
          onMembers={onMembers}
          onClose={() => setChosen(null)}
        />
      )}
    </>
  );
}

// Columns in hundredths of the width; the lines are drawn in the same measure.
const COLUMNS = { caller: [0, 21], approval: 31.5, scope: [42, 62], route: [76, 100] } as const;

function Picture({
  drawn,
  chosen,
  onChoose,
}: {
  drawn: Drawn;
  chosen: string | null;
  onChoose: (key: string) => void;
}) {
  const reached = chosen ? reach(drawn, chosen) : null;
  const dim = (...keys: string[]) => reached !== null && !keys.every((key) => reached.has(key));
  const y = (key: string) => (drawn.spots.get(key)?.y ?? 0) + ROW / 2;
  return (
    <div
      role="group"
      aria-label="Map of callers, approvals, scopes and routes"
      className="relative"
      style={{ height: drawn.height }}
    >
      <svg
        aria-hidden="true"
        className="absolute inset-0 h-full w-full"
        viewBox={`0 0 1000 ${drawn.height}`}
        preserveAspectRatio="none"
      >
        {drawn.requests.map((it) => (
          <AskLine
            key={it.caller + it.scope}
            ask={it}
            from={y(it.caller)}
            to={y(it.scope)}
            dim={dim(it.caller, it.scope)}
          />
        ))}
        {drawn.needs.map((it) => (
          <Curve
            key={it.scope + it.route}
            x1={COLUMNS.scope[1] * 10}
            y1={y(it.scope)}
            x2={COLUMNS.route[0] * 10}
            y2={y(it.route)}
            width={thickness(it.admitted)}
            stroke="var(--accent)"
            dashed={it.admitted === 0}
            dim={dim(it.scope, it.route)}
          />
        ))}
        {drawn.strays.map((it) => (
          <Curve
            key={it.caller + it.route}
            x1={COLUMNS.caller[1] * 10}
            y1={y(it.caller)}
            x2={COLUMNS.route[0] * 10}
            y2={y(it.route)}
            width={thickness(it.refused + it.admitted) * 0.7}
            stroke={it.refused > 0 ? "var(--rust)" : "var(--faint)"}
            dashed={false}
            dim={dim(it.caller, it.route)}
            faint={reached === null}
          />
        ))}
      </svg>
      {drawn.requests.map((it) => (
        <span
          key={it.caller + it.scope}
          className="pointer-events-none absolute -translate-x-1/2"
          style={{
            left: `${COLUMNS.approval}%`,
            top: at(y(it.caller), y(it.scope)) - 11,
            opacity: dim(it.caller, it.scope) ? 0.15 : 1,
          }}
        >
          <span className="block rounded-full bg-paper px-0.5">
            <Mark
              verdict={it.status === "granted" ? "admitted" : it.status === "waiting" ? "waiting" : "ended"}
              size={11}
            />
          </span>
        </span>
      ))}
      {drawn.requests
        .filter((it) => it.refused > 0)
        .map((it) => (
          <span
            key={it.caller + it.scope}
            className="pointer-events-none absolute -translate-x-1/2"
            style={{
              left: "37.5%",
              top: along(y(it.caller), y(it.scope), 0.762) - 11,
              opacity: dim(it.caller, it.scope) ? 0.15 : 1,
            }}
          >
            <span className="block bg-paper px-0.5">
              <Mark verdict="refused" size={10} />
            </span>
          </span>
        ))}
      <Column title="Callers" left={COLUMNS.caller[0]} right={COLUMNS.caller[1]}>
        {drawn.callers.map((spot) => (
          <Node key={spot.key} spot={spot} chosen={chosen} dim={dim(spot.key)} onChoose={onChoose} />
        ))}
      </Column>
      <p
        aria-hidden="true"
        className="absolute top-0 -translate-x-1/2 text-[0.8125rem] font-semibold text-faint"
        style={{ left: `${COLUMNS.approval}%` }}
      >
        Approvals
      </p>
      {drawn.scopes.map((group) => (
        <div key={group.api} role="group" aria-label={`Scopes of ${group.api}`}>
          <p
            className="absolute text-[0.8125rem] font-semibold text-faint"
            style={{ left: `${COLUMNS.scope[0]}%`, top: group.y }}
          >
            {group.y === 0 ? `Scopes of ${group.api}` : group.api}
          </p>
          {group.all.map((spot) => (
            <Node
              key={spot.key}
              spot={spot}
              chosen={chosen}
              dim={dim(spot.key)}
              onChoose={onChoose}
              left={COLUMNS.scope[0]}
              right={COLUMNS.scope[1]}
            />
          ))}
        </div>
      ))}
      <Column title="Routes" left={COLUMNS.route[0]} right={COLUMNS.route[1]}>
        {drawn.routes.map((spot) => (
          <Node
            key={spot.key}
            spot={spot}
            chosen={chosen}
            dim={dim(spot.key)}
            onChoose={onChoose}
            left={COLUMNS.route[0]}
            right={COLUMNS.route[1]}
          />
        ))}
      </Column>
    </div>
  );
}

/** Where a line from caller to scope passes the column of approvals. */
function at(from: number, to: number): number {
  return along(from, to, (COLUMNS.approval - COLUMNS.caller[1]) / (COLUMNS.scope[0] - COLUMNS.caller[1]));
}

/** The height of the curve at a share of its width: a cubic whose handles lie half way. */
function along(from: number, to: number, share: number): number {
  let t = share;
  for (let i = 0; i < 12; i++) {
    const x = 1.5 * (1 - t) * (1 - t) * t + 1.5 * (1 - t) * t * t + t * t * t;
    t += (share - x) * 0.7;
  }
  return from + (to - from) * (3 * t * t - 2 * t * t * t);
}

function AskLine({ ask, from, to, dim }: { ask: Requested; from: number; to: number; dim: boolean }) {
  const stroke = ask.status === "granted" ? "var(--accent)" : ask.status === "waiting" ? "var(--ochre)" : "var(--hair)";
  return (
    <Curve
      x1={COLUMNS.caller[1] * 10}
      y1={from}
      x2={COLUMNS.scope[0] * 10}
      y2={to}
      width={thickness(ask.admitted)}
      stroke={stroke}
      dashed={ask.status !== "granted" || ask.admitted === 0}
      dim={dim}
    />
  );
}

function Curve({
  x1,
  y1,
  x2,
  y2,
  width,
  stroke,
  dashed,
  dim,
  faint = false,
}: {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  width: number;
  stroke: string;
  dashed: boolean;
  dim: boolean;
  faint?: boolean;
}) {
  const middle = (x1 + x2) / 2;
  return (
    <path
      d={`M${x1} ${y1}C${middle} ${y1} ${middle} ${y2} ${x2} ${y2}`}
      fill="none"
      stroke={stroke}
      strokeWidth={width}
      strokeDasharray={dashed ? "5 5" : undefined}
      opacity={dim ? 0.08 : faint ? 0.22 : 0.62}
      vectorEffect="non-scaling-stroke"
    />
  );
}

function Column({ title, left, children }: { title: string; left: number; right: number; children: React.ReactNode }) {
  return (
    <div role="group" aria-label={title}>
      <p className="absolute top-0 text-[0.8125rem] font-semibold text-faint" style={{ left: `${left}%` }}>
        {title}
      </p>
      {children}
    </div>
  );
}

function Node({
  spot,
  chosen,
  dim,
  onChoose,
  left = COLUMNS.caller[0],
  right = COLUMNS.caller[1],
}: {
  spot: Spot;
  chosen: string | null;
  dim: boolean;
  onChoose: (key: string) => void;
  left?: number;
  right?: number;
}) {
  const picked = chosen === spot.key;
  return (
    <button
      type="button"
      aria-pressed={picked}
      title={spot.more}
      onClick={() => onChoose(spot.key)}
      className={
        `absolute flex items-center gap-2 rounded border bg-raised px-2 text-left ` +
        `${picked ? "border-accent ring-1 ring-accent" : "border-hair hover:border-faint"}`
      }
      style={{ left: `${left}%`, width: `${right - left}%`, top: spot.y + 3, height: ROW - 6, opacity: dim ? 0.45 : 1 }}
    >
      <span
        className={
          `min-w-0 flex-1 truncate ` +
          `${spot.kind === "caller" ? (spot.key === UNKNOWN ? "text-faint" : "") : "mono text-[0.8125rem]"}`
        }
      >
        {spot.label}
      </span>
      {spot.kind !== "scope" && spot.more && (
        <span
          className={
            `max-w-[45%] truncate text-[0.75rem] ` +
            `${spot.more === "open" || spot.more === "any scope" ? "text-rust" : "text-faint"}`
          }
        >
          {spot.more}
        </span>
      )}
    </button>
  );
}

function Meaning({
  issuer,
  accessMap,
  drawn,
  chosen,
  onMembers,
  onClose,
}: {
  issuer: string;
  accessMap: AccessMap;
  drawn: Drawn;
  chosen: string;
  onMembers: (id: string) => void;
  onClose: () => void;
}) {
  const spot = drawn.spots.get(chosen);
  if (!spot) return null;
  return (
    <section
      aria-live="polite"
      aria-label={`What ${spot.label} reaches`}
      className="sticky bottom-0 z-20 mt-4 max-h-[42vh] overflow-y-auto rounded border border-hair bg-raised px-4 py-3"
    >
      <div className="flex flex-wrap items-start justify-between gap-3">
        <h2 className={spot.kind === "caller" ? "" : "mono"}>
          {spot.label} <span className="font-normal text-faint">{spot.more}</span>
        </h2>
        <span className="flex gap-2">
          <Further issuer={issuer} accessMap={accessMap} spot={spot} onMembers={onMembers} />
          <Button onClick={onClose}>Close</Button>
        </span>
      </div>
      <ul className="mt-2 flex flex-col gap-1.5">
        {sentencesOf(accessMap, drawn, spot).map(([verdict, words]) => (
          <li key={words}>
            <span className="inline-flex items-start gap-2">
              <Mark verdict={verdict} />
              {words}
            </span>
          </li>
        ))}
      </ul>
      {spot.kind === "caller" && accessMap.callers.find((it) => "caller:" + it.id === chosen)?.members === 1 && (
        <div className="mt-3">
          <Line>{`admit client show ${shell(spot.label)}`}</Line>
        </div>
      )}
    </section>
  );
}

function Further({
  issuer,
  accessMap,
  spot,
  onMembers,
}: {
  issuer: string;
  accessMap: AccessMap;
  spot: Spot;
  onMembers: (id: string) => void;
}) {
  const id = spot.key.slice(spot.key.indexOf(":") + 1);
  if (spot.key === UNKNOWN)
    return <ButtonLink to={place(issuer, "decisions") + query({ verdict: "refused" })}>See the refused</ButtonLink>;
  if (spot.kind === "caller") {
    const caller = accessMap.callers.find((it) => it.id === id);
    return caller && caller.members > 1 ? (
      <Button onClick={() => onMembers(id)}>Show them one by one</Button>
    ) : (
      <>
        <ButtonLink to={place(issuer, "decisions") + query({ client: spot.label })}>Its decisions</ButtonLink>
        <ButtonLink to={place(issuer, "clients", spot.label)}>Open the client</ButtonLink>
      </>
    );
  }
  if (spot.kind === "scope")
    return (
      <ButtonLink to={place(issuer, "apis", accessMap.scopes.find((it) => it.name === id)?.api ?? "")}>
        Open the API
      </ButtonLink>
    );
  return (
    <>
      <ButtonLink
        to={
          place(issuer, "call") +
          query({ path: spot.label.split(" ")[1], method: spot.label.split(" ")[0]?.split(",")[0] })
        }
      >
        Call it
      </ButtonLink>
      <ButtonLink to={place(issuer, "gateway", "routes", id)}>Open the route</ButtonLink>
    </>
  );
}

type Sentence = ["admitted" | "refused" | "waiting" | "ended", string];

function sentencesOf(accessMap: AccessMap, drawn: Drawn, spot: Spot): Sentence[] {
  const name = (key: string) => drawn.spots.get(key)?.label ?? key;
  const passed = (admitted: number, refused: number) =>
    admitted + refused === 0
      ? "never used"
      : `${count(admitted)} admitted${refused > 0 ? `, ${count(refused)} refused` : ""}`;
  const strays = drawn.strays
    .filter((it) => it.caller === spot.key || it.route === spot.key)
    .map((it): Sentence => [
      it.refused > 0 ? "refused" : "admitted",
      `${name(it.caller)} called ${name(it.route)}` +
        `${it.refused > 0 ? " without a scope that it needs" : ""}: ${passed(it.admitted, it.refused)}.`,
    ]);
  if (spot.kind === "caller") {
    return [
      ...drawn.requests
        .filter((it) => it.caller === spot.key)
        .map((it): Sentence => {
          const routes = drawn.needs.filter((need) => need.scope === it.scope).map((need) => name(need.route));
          const where = routes.length === 0 ? "no route requests it" : routes.join(", ");
          if (it.status === "granted")
            return ["admitted", `${name(it.scope)} is granted: ${where}; ${passed(it.admitted, it.refused)}.`];
          return [
            it.status === "waiting" ? "waiting" : "ended",
            `${name(it.scope)} is ${it.word}; it would lead to ${where}.`,
          ];
        }),
      ...strays,
    ];
  }
  const asksOf = (scopes: string[]) =>
    drawn.requests
      .filter((it) => scopes.includes(it.scope))
      .map((it): Sentence => [
        it.status === "granted" ? "admitted" : it.status === "waiting" ? "waiting" : "ended",
        `${name(it.caller)}: ${name(it.scope)} is ${it.word}` +
          `${it.status === "granted" ? `; ${passed(it.admitted, it.refused)}` : ""}.`,
      ]);
  if (spot.kind === "scope") return asksOf([spot.key]);
  const route = accessMap.routes.find((it) => "route:" + it.id === spot.key);
  const who: Sentence[] = route?.open
    ? [["refused", "Anyone may call it, without a token."]]
    : route?.any_scope
      ? [["refused", "Any token of its API may call it, whatever its scope."]]
      : [];
  return [...who, ...asksOf(drawn.needs.filter((it) => it.route === spot.key).map((it) => it.scope)), ...strays];
}

/** The same to read on a phone. */
function AsList({ issuer, accessMap, drawn }: { issuer: string; accessMap: AccessMap; drawn: Drawn }) {
  return (
    <ul className="flex flex-col gap-4">
      {drawn.callers.map((spot) => (
        <li key={spot.key} className="border-t border-hair pt-2">
          <p className="font-semibold">
            {spot.key !== UNKNOWN && !/^\d/.test(spot.label) ? (
              <Link to={place(issuer, "clients", spot.label)}>{spot.label}</Link>
            ) : (
              spot.label
            )}{" "}
            <span className="font-normal text-faint">{spot.more}</span>
          </p>
          <ul className="mt-1 flex flex-col gap-1">
            {sentencesOf(accessMap, drawn, spot).map(([verdict, words]) => (
              <li key={words} className="flex items-start gap-2">
                <Mark verdict={verdict} />
                <span className="min-w-0 break-words">{words}</span>
              </li>
            ))}
          </ul>
        </li>
      ))}
      <li className="text-faint">
        Since <Time at={accessMap.since} exact />; routes: {accessMap.routes.map((it) => routeLabel(it)).join(", ")}
      </li>
    </ul>
  );
}
