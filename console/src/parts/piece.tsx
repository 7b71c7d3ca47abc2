// One thing of an issuer as a piece of the setup file, for whoever runs it.
import { ROOT, ofIssuer, query } from "../api/http";
import { useSession } from "../frame/session";

export function Piece({ issuer, of, name }: { issuer: string; of: "api" | "client"; name: string }) {
  const { who } = useSession();
  if (!who.rank) return null;
  return (
    <p className="mt-3">
      <a href={`${ROOT}/api${ofIssuer(issuer, "setup")}${query({ [of]: name })}`} download={`${name}.yaml`}>
        Take it out as a setup file
      </a>
    </p>
  );
}
