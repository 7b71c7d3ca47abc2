// Reads a token without sending it anywhere: what stands in it, in sentences.
export type Read = { header: Record<string, unknown>; claims: Record<string, unknown> };
export type Reading =
  { kind: "jwt"; read: Read } | { kind: "opaque" } | { kind: "nothing" } | { kind: "broken"; why: string };

export function readToken(text: string): Reading {
  const trimmed = text.trim().replace(/^(Authorization:\s*)?Bearer\s+/i, "");
  if (trimmed === "") return { kind: "nothing" };
  const parts = trimmed.split(".");
  if (parts.length === 5)
    return { kind: "broken", why: "It is encrypted (five parts): only whom it is for can read it." };
  if (parts.length !== 3)
    return /^[A-Za-z0-9_-]{20,}$/.test(trimmed)
      ? { kind: "opaque" }
      : { kind: "broken", why: "It is no JWT: that has three parts with dots between." };
  const header = part(parts[0] ?? "");
  const claims = part(parts[1] ?? "");
  if (!header || !claims) return { kind: "broken", why: "Its parts are no JSON in base64url. A piece may be missing." };
  return { kind: "jwt", read: { header, claims } };
}

function part(text: string): Record<string, unknown> | null {
  try {
    const bytes = Uint8Array.from(atob(text.replaceAll("-", "+").replaceAll("_", "/")), (c) => c.charCodeAt(0));
    const json: unknown = JSON.parse(new TextDecoder("utf-8", { fatal: true }).decode(bytes));
    return typeof json === "object" && json !== null && !Array.isArray(json)
      ? Object.fromEntries(Object.entries(json))
      : null;
  } catch {
    return null;
  }
}

const says = (value: unknown): string =>
  Array.isArray(value)
    ? value.map(String).join(", ")
    : typeof value === "object" && value !== null
      ? JSON.stringify(value)
      : String(value);

export function seconds(value: unknown): number | null {
  return typeof value === "number" ? value * 1000 : null;
}

/** Who, for whom, for which API, what for, how proven. */
export function sentences({ header, claims }: Read): string[] {
  const said: string[] = [];
  const client = claims.client_id ?? claims.azp;
  const own = client !== undefined && claims.sub === client;
  if (header.typ !== "at+jwt" && header.typ !== "application/at+jwt")
    said.push(
      claims.nonce !== undefined || claims.at_hash !== undefined
        ? "It is an ID token: it tells a client who signed in, and opens no route."
        : `Its type is ${says(header.typ ?? "not said")}; an access token says at+jwt.`,
    );
  if (client !== undefined)
    said.push(
      own
        ? `The client ${says(client)} acts on its own.`
        : `The client ${says(client)} acts for the person ${says(claims.sub)}.`,
    );
  else if (claims.sub !== undefined) said.push(`It is about ${says(claims.sub)}.`);
  if (claims.aud !== undefined) said.push(`It is for ${says(claims.aud)}.`);
  if (claims.scope !== undefined)
    said.push(claims.scope === "" ? "It carries no scope." : `It may do: ${says(claims.scope)}.`);
  if (claims.iss !== undefined) said.push(`It was issued by ${says(claims.iss)}.`);
  if (claims.acr !== undefined)
    said.push(
      claims.acr === "urn:admit:acr:2"
        ? "The person signed in with two factors."
        : claims.acr === "urn:admit:acr:1"
          ? "The person signed in with one factor."
          : `The sign-in was of the strength ${says(claims.acr)}.`,
    );
  const act = claims.act;
  if (typeof act === "object" && act !== null && "trial" in act)
    said.push(`It is a trial token, had made by ${"name" in act ? says(act.name) : "an operator"}.`);
  said.push(
    header.alg === "none"
      ? "It is not signed: nobody should take it."
      : `It says to be signed with ${says(header.alg)} by the key ` +
          `${says(header.kid ?? "not named")}. Whether it is, the checks of a route tell.`,
  );
  return said;
}
