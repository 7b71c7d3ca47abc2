// Who is signed in, and what they may do. The service decides each time; this only leaves out what would be refused
// anyway.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect } from "react";
import * as v from "valibot";
import { ROOT, asRefused, fetchFrom, onSignedOut, signedInWith } from "../api/http";
import { Nobody, Signed } from "../api/answers";
import { Button, Refusal, Waiting } from "../parts/basics";
import { FirstPerson } from "./first-person";
import { SignInPage } from "./sign-in";

type Session = { who: Signed; may: { change: boolean; approve: boolean; runPeople: boolean } };
const SessionContext = createContext<Session | null>(null);

export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error("nobody is signed in");
  return session;
}

/** Ends the session here and at the issuer, and goes where people sign in. */
export async function signOut() {
  const answered = await fetchFrom(v.object({ to: v.string() }), ROOT + "/sign-out", { method: "POST", body: {} });
  window.location.assign(answered.value.to);
}

type SessionState = { signed: Signed } | { signed: null; first: boolean; issuers: Nobody["issuers"] };

async function standing(): Promise<SessionState> {
  const { value } = await fetchFrom(v.union([Signed, Nobody]), ROOT + "/session");
  if (!("form" in value)) return { signed: null, first: value.first, issuers: value.issuers };
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
  if (!signed) return asked.data.first ? <FirstPerson /> : <SignInPage listed={asked.data.issuers} />;
  if (!signed.admin_role && !signed.owns) return <MayNothing who={signed} />;
  const change = signed.admin_role === "administrator" || signed.admin_role === "operator";
  const approve = signed.admin_role === "administrator";
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

/** For a person who has no admin role and owns nothing: every place would be refused. */
function MayNothing({ who }: { who: Signed }) {
  return (
    <main className="mx-auto max-w-xl p-8">
      <h1 className="mb-4">You may see nothing here</h1>
      <p className="mb-3">
        {who.name} is signed in at {who.issuer}, has no admin role there, and owns no API and no client.
      </p>
      <p className="mb-5">An administrator can give you an admin role, or name you as an owner.</p>
      <p className="flex flex-wrap items-center gap-3">
        <Button kind="act" onClick={() => void signOut()}>
          Sign out
        </Button>
        <a href={`/${who.issuer}/profile`}>Your profile</a>
      </p>
    </main>
  );
}
