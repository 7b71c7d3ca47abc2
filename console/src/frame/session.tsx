// Who is signed in, and what they may do. The service decides each time; this only leaves out what would be refused
// anyway.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect } from "react";
import * as v from "valibot";
import { ROOT, asRefused, fetchFrom, onSignedOut, signedInWith } from "../api/http";
import { Nobody, Signed } from "../api/shapes";
import { Refusal, Waiting } from "../parts/basics";
import { FirstPerson } from "./first-person";
import { SignInPage } from "./sign-in";

type Session = { who: Signed; may: { change: boolean; approve: boolean; runPeople: boolean } };
const SessionContext = createContext<Session | null>(null);

export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error("nobody is signed in");
  return session;
}

type Standing = { signed: Signed } | { signed: null; first: boolean };

async function standing(): Promise<Standing> {
  const { value } = await fetchFrom(v.union([Signed, Nobody]), ROOT + "/session");
  if (!("form" in value)) return { signed: null, first: value.first };
  signedInWith(value.form);
  return { signed: value };
}

export function SessionProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const asked = useQuery({ queryKey: ["session"], queryFn: standing, staleTime: 60_000, retry: false });
  useEffect(() => onSignedOut(() => void client.invalidateQueries({ queryKey: ["session"] })), [client]);
  if (asked.isPending)
    return (
      <main className="mx-auto max-w-md p-8">
        <Waiting what="who is signed in" />
      </main>
    );
  if (asked.error)
    return (
      <main className="mx-auto max-w-xl p-8">
        <h1 className="mb-4">Admit</h1>
        <Refusal of={asRefused(asked.error)} again={() => void asked.refetch()} />
      </main>
    );
  const { signed } = asked.data;
  if (!signed) return asked.data.first ? <FirstPerson /> : <SignInPage />;
  const change = signed.rank === "administrator" || signed.rank === "operator";
  const approve = signed.rank === "administrator";
  return (
    <SessionContext.Provider
      value={{
        who: signed,
        may: { change: change || signed.owns, approve: approve || signed.owns, runPeople: approve },
      }}
    >
      {children}
    </SessionContext.Provider>
  );
}
