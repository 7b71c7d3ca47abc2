// One thing of an issuer as a piece of the setup file, for the one who runs it.
import { ROOT, ofIssuer, query } from "../api/http";
import { useSession } from "../frame/session";

export function Piece({ issuer, of, name }: { issuer: string; of: "api" | "client"; name: string }) {
  const { who } = useSession();
  if (!who.admin_role) return null;
  return (
    <p className="mt-3">
      <a href={`${ROOT}/api${ofIssuer(issuer, "setup")}${query({ [of]: name })}`} download={`${name}.yaml`}>
        Export as a setup file
      </a>
    </p>
  );
}
