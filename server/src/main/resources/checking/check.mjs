// Checks access tokens in the API itself, with the package jose. Run: node check.mjs TOKEN SCOPE
import { createRemoteJWKSet, jwtVerify } from "jose";

const env = process.env;
const keys = createRemoteJWKSet(new URL(env.JWKS_URI)); // fetched once, and anew when an unknown key id comes

export async function check(token, scope) {
  const { payload } = await jwtVerify(token, keys, {
    issuer: env.ISSUER,
    audience: env.AUDIENCE,
    typ: "at+jwt",
    algorithms: env.ALGORITHMS.split(" "),
    requiredClaims: ["sub", "exp", "client_id", "scope"],
    clockTolerance: 30,
  });
  if (!payload.scope.split(" ").includes(scope)) throw new Error("insufficient_scope"); // answer 403, not 401
  return payload;
}

const [token, scope] = process.argv.slice(2);
try {
  console.log("admitted", (await check(token, scope)).sub);
} catch (refused) {
  console.log("refused:", refused.message);
  process.exit(1);
}
