// node connect.mjs prints where to send the browser, and a verifier to keep; node connect.mjs CODE VERIFIER exchanges
// the code that came back (RFC 6749 §4.1, RFC 7636). The settings are in the environment.
import { createHash, randomBytes } from "node:crypto";
const env = process.env;
const [code, kept] = process.argv.slice(2);
if (!code) {
  const verifier = randomBytes(32).toString("base64url");
  const query = new URLSearchParams({
    response_type: "code",
    client_id: env.CLIENT_ID,
    redirect_uri: env.REDIRECT_URI,
    scope: env.SCOPE,
    state: randomBytes(16).toString("base64url"),
    code_challenge: createHash("sha256").update(verifier).digest("base64url"),
    code_challenge_method: "S256",
  });
  // keep verifier and state with the browser's session, and compare the state when the browser is back
  console.log(`${env.AUTHORIZATION_ENDPOINT}?${query}\n${verifier}`);
} else {
  const form = new URLSearchParams({
    grant_type: "authorization_code",
    code,
    code_verifier: kept,
    redirect_uri: env.REDIRECT_URI,
  });
  const headers = {};
  if (!env.CLIENT_SECRET || env.AUTH_METHOD === "client_secret_post") form.set("client_id", env.CLIENT_ID);
  if (env.CLIENT_SECRET && env.AUTH_METHOD === "client_secret_post") form.set("client_secret", env.CLIENT_SECRET);
  else if (env.CLIENT_SECRET)
    headers.Authorization =
      "Basic " + btoa(`${encodeURIComponent(env.CLIENT_ID)}:${encodeURIComponent(env.CLIENT_SECRET)}`);
  const answer = await fetch(env.TOKEN_ENDPOINT, { method: "POST", headers, body: form });
  console.log(await answer.text());
  process.exitCode = answer.ok ? 0 : 1;
}
