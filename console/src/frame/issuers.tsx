// Which issuers are shown: one, or all that the person may see. The address says it: /harbour/clients, or /~/clients.
import { useQuery } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useMemo } from "react";
import { useParams } from "react-router";
import { ask, asRefused } from "../api/http";
import type { Loaded } from "../api/reading";
import { Issuer, page } from "../api/answers";
import { Show } from "../parts/basics";

export const ALL = "~";
type Shown = { all: Issuer[]; shown: Issuer[]; chosen: string };
const IssuersContext = createContext<Shown>({ all: [], shown: [], chosen: ALL });

/** The issuers of this address; pages of one thing have just one. */
export function useIssuers(): Shown {
  return useContext(IssuersContext);
}

/** The one issuer that a page is about. */
export function useIssuer(): string {
  const { issuer } = useParams();
  return issuer ?? ALL;
}

export function IssuersProvider({ children }: { children: ReactNode }) {
  const { issuer } = useParams();
  const asked = useQuery({
    queryKey: ["service", "issuers"],
    queryFn: ({ signal }) => ask(page(Issuer), "/issuers?limit=200", { signal }),
  });
  const loaded: Loaded<Issuer[]> = asked.data
    ? { state: "ready", value: asked.data.value.items, etag: null }
    : asked.error
      ? { state: "refused", refusal: asRefused(asked.error) }
      : { state: "loading" };
  return (
    <Show of={loaded} what="the issuers">
      {(all) => (
        <Chosen all={all} chosen={issuer ?? ALL}>
          {children}
        </Chosen>
      )}
    </Show>
  );
}

function Chosen({ all, chosen, children }: { all: Issuer[]; chosen: string; children: ReactNode }) {
  const value = useMemo(
    () => ({ all, chosen, shown: chosen === ALL ? all : all.filter((it) => it.name === chosen) }),
    [all, chosen],
  );
  return <IssuersContext.Provider value={value}>{children}</IssuersContext.Provider>;
}

/** A place of the console for an issuer. */
export function place(issuer: string, ...parts: string[]): string {
  return "/" + [issuer, ...parts.map((part) => encodeURIComponent(part))].join("/");
}

/** Where something new can be made: the issuer that is shown, or the first one that is not the service's own. */
export function useTarget(): string {
  const { shown, all } = useIssuers();
  const usual = shown.length === 1 ? shown[0] : (shown.find((it) => it.name !== "admit") ?? all[0]);
  return usual?.name ?? "admit";
}
