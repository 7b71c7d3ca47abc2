// Finds any object and runs any action, by keyboard.
import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useId, useMemo, useState } from "react";
import { useDebounce } from "use-debounce";
import { useNavigate } from "react-router";
import { ask, query } from "../api/http";
import { Api, Client, Person, Route, Scope, TrustedIssuer, UpstreamCredential, page } from "../api/answers";
import { usePlaces } from "./bar";
import { ALL, place, useIssuers, useTarget } from "./issuers";
import { routeLabel } from "../parts/words";
import { useSession } from "./session";

type Found = { key: string; kind: string; label: string; more: string; to: string };

export function Find({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={(to) => !to && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[rgb(10_14_18/0.45)]" />
        <Dialog.Content
          aria-describedby={undefined}
          className={
            "fixed top-[12vh] left-1/2 z-50 w-[calc(100vw-2rem)] max-w-2xl " +
            "-translate-x-1/2 rounded border border-hair bg-paper p-3"
          }
        >
          <Dialog.Title className="sr-only">Find anything</Dialog.Title>
          <Box onClose={onClose} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Box({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const [chosen, setChosen] = useState(0);
  const navigate = useNavigate();
  const listId = useId();
  const [settled] = useDebounce(text.trim(), 160);
  const found = useFound(settled);
  const go = (one: Found | undefined) => {
    if (!one) return;
    onClose();
    void navigate(one.to);
  };
  const at = Math.min(chosen, Math.max(0, found.length - 1));
  return (
    <>
      <input
        className="field py-1.5"
        role="combobox"
        aria-expanded="true"
        aria-controls={listId}
        aria-activedescendant={found[at] ? `${listId}-${at}` : undefined}
        aria-label="Find an object or an action"
        autoFocus
        spellCheck={false}
        placeholder="A client, API, scope, route, person, decision id, or something to do"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setChosen(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") {
            event.preventDefault();
            setChosen((at + 1) % Math.max(1, found.length));
          }
          if (event.key === "ArrowUp") {
            event.preventDefault();
            setChosen((at - 1 + found.length) % Math.max(1, found.length));
          }
          if (event.key === "Enter") {
            event.preventDefault();
            go(found[at]);
          }
        }}
      />
      <ul id={listId} role="listbox" aria-label="Found" className="mt-2 max-h-[50vh] overflow-y-auto">
        {found.map((one, index) => (
          <li
            key={one.key}
            id={`${listId}-${index}`}
            role="option"
            aria-selected={index === at}
            className={
              `flex cursor-pointer items-baseline gap-3 rounded ` + `px-2 py-1 ${index === at ? "bg-accent-shade" : ""}`
            }
            onMouseEnter={() => setChosen(index)}
            onClick={() => go(one)}
          >
            <span className="w-24 shrink-0 text-[0.8125rem] text-faint">{one.kind}</span>
            <span className="max-w-[60%] shrink-0 truncate">{one.label}</span>
            <span className="min-w-0 flex-1 truncate text-right text-[0.8125rem] text-faint">{one.more}</span>
          </li>
        ))}
      </ul>
      {found.length === 0 && (
        <p className="px-2 py-3 text-faint" role="status">
          Nothing of this name. Ids, names, addresses and words of actions are looked at.
        </p>
      )}
    </>
  );
}

function useFound(text: string): Found[] {
  const { shown } = useIssuers();
  const { who, may } = useSession();
  const places = usePlaces();
  const target = useTarget();
  const { chosen } = useIssuers();
  const issuers = shown.map((it) => it.name);
  const asked = useQuery({
    queryKey: ["issuer", "~", "find", issuers.join(" "), text],
    enabled: text.length > 1 && issuers.length > 0,
    queryFn: async ({ signal }): Promise<Found[]> => {
      const each = await Promise.all(
        issuers.slice(0, 10).map((issuer) => search(issuer, text, who.admin_role !== null, signal)),
      );
      return each.flat();
    },
  });
  const actions = useMemo(() => actionsOf(target, chosen, places, may), [chosen, may, places, target]);
  const words = text
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== "");
  const fitting = actions.filter((it) =>
    words.every((word) => `${it.kind} ${it.label} ${it.more}`.toLowerCase().includes(word)),
  );
  const decision: Found[] = /^dec_[A-Za-z0-9_-]+$/.test(text)
    ? [{ key: text, kind: "decision", label: text, more: "", to: place(chosen, "decisions", text) }]
    : [];
  return [...decision, ...(asked.data ?? []).slice(0, 40), ...fitting].slice(0, 50);
}

async function search(issuer: string, text: string, runs: boolean, signal: AbortSignal): Promise<Found[]> {
  const search = query({ search: text, limit: 12 });
  const base = `/issuers/${encodeURIComponent(issuer)}`;
  const low = text.toLowerCase();
  const fits = (...texts: (string | null)[]) => texts.some((it) => it?.toLowerCase().includes(low));
  const soft = async <T,>(reading: Promise<T[]>): Promise<T[]> => reading.catch(() => []);
  const clients = soft(
    ask(page(Client), `${base}/clients${search}`, { signal }).then(({ value }) =>
      value.items.map((it): Found => ({
        key: it.client_id,
        kind: "client",
        label: it.name,
        more: `${issuer} · ${it.client_name}`,
        to: place(issuer, "clients", it.name),
      })),
    ),
  );
  const people = runs
    ? soft(
        ask(page(Person), `${base}/people${search}`, { signal }).then(({ value }) =>
          value.items.map((it): Found => ({
            key: it.id,
            kind: "person",
            label: it.name,
            more: `${issuer} · ${it.email}`,
            to: place(issuer, "people", it.id),
          })),
        ),
      )
    : [];
  const apis = ask(page(Api), `${base}/apis?limit=200`, { signal })
    .then(({ value }) => value.items)
    .catch(() => []);
  const routes = soft(
    ask(page(Route), `${base}/routes?limit=200`, { signal }).then(({ value }) =>
      value.items.map((it): Found => ({
        key: it.id,
        kind: "route",
        label: routeLabel(it),
        more: issuer,
        to: place(issuer, "gateway", "routes", it.id),
      })),
    ),
  );
  const scopes = apis.then((all) =>
    Promise.all(
      all.map((api) =>
        soft(
          ask(page(Scope), `${base}/apis/${api.name}/scopes`, { signal }).then(({ value }) =>
            value.items.map((it): Found => ({
              key: it.id,
              kind: "scope",
              label: it.name,
              more: `${issuer} · ${it.consequence_reads.administrator}`,
              to: place(issuer, "apis", api.name),
            })),
          ),
        ),
      ),
    ).then((each) => each.flat()),
  );
  const trusted = runs
    ? soft(
        ask(page(TrustedIssuer), `${base}/trusted-issuers`, { signal }).then(({ value }) =>
          value.items.map((it): Found => ({
            key: it.id,
            kind: "trusted issuer",
            label: it.name,
            more: it.url,
            to: place(issuer, "gateway", "trusted-issuers", it.name),
          })),
        ),
      )
    : [];
  const credentials = runs
    ? soft(
        ask(page(UpstreamCredential), `${base}/upstream-credentials`, { signal }).then(({ value }) =>
          value.items.map((it): Found => ({
            key: it.id,
            kind: "upstream",
            label: it.name,
            more: it.upstream,
            to: place(issuer, "gateway", "upstream-credentials", it.name),
          })),
        ),
      )
    : [];
  const found = (
    await Promise.all([
      apis.then((all) =>
        all.map((it): Found => ({
          key: it.id,
          kind: "API",
          label: it.name,
          more: `${issuer} · ${it.audience}`,
          to: place(issuer, "apis", it.name),
        })),
      ),
      scopes,
      clients,
      routes,
      people,
      trusted,
      credentials,
    ])
  ).flat();
  return found.filter((it) => it.kind === "client" || it.kind === "person" || fits(it.label, it.more));
}

function actionsOf(
  issuer: string,
  chosen: string,
  places: [string, string][],
  may: { change: boolean; approve: boolean; runPeople: boolean },
): Found[] {
  const one = (label: string, to: string, more = issuer): Found => ({
    key: "do " + label,
    kind: "do",
    label,
    more,
    to,
  });
  const all: Found[] = places.map(([name, label]) => ({
    key: "go " + name,
    kind: "go to",
    label,
    more: "",
    to: place(chosen, name),
  }));
  all.unshift({
    key: "go access-map",
    kind: "go to",
    label: "Access map",
    more: "who can call what",
    to: place(chosen === ALL ? issuer : chosen),
  });
  if (may.change) {
    all.push(
      one("Add an API", place(issuer, "apis", "new")),
      one("Register a client", place(issuer, "clients", "new")),
      one("Add a route", place(issuer, "gateway", "new")),
      one("Call a route", place(issuer, "call")),
      one("Protect an API from the start, in five steps", "/first-api", ""),
      one("Try a method and path against the routes", place(issuer, "gateway", "try")),
      one("Restore an earlier revision of the routes", place(issuer, "gateway", "revisions")),
      one("Add a trusted issuer", place(issuer, "gateway", "trusted-issuers")),
      one("Add an upstream credential", place(issuer, "gateway", "upstream-credentials")),
      one("Read a token", place(issuer, "tokens")),
      one("End tokens before their time", place(issuer, "tokens", "issued")),
      one("Make the next key", place(issuer, "keys")),
      one("Export or load the setup file", place(issuer, "settings", "setup")),
    );
  }
  if (may.approve) all.push(one("Answer what waits for approval", place(issuer, "approvals")));
  if (may.runPeople) all.push(one("Add a person", place(issuer, "people", "new")));
  all.push(
    one("Watch a client until its first call", place(issuer, "decisions", "watch")),
    one("Look through the audit", place(issuer, "review", "audit")),
    one("Light or dark, and the time zone", place(chosen, "settings", "display"), ""),
  );
  return all;
}
