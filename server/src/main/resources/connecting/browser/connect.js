// In the page, as a module: await signIn(settings) sends the person to sign in; on the page that they come back to,
// await token(settings) has the access token (RFC 6749 §4.1, RFC 7636). settings = { authorizationEndpoint,
// tokenEndpoint, clientId, redirectUri, scope }. No secret is in it.
const encoded = (bytes) =>
  btoa(String.fromCharCode(...new Uint8Array(bytes)))
    .replaceAll("+", "-")
    .replaceAll("/", "_")
    .replace(/=+$/, "");
const random = () => encoded(crypto.getRandomValues(new Uint8Array(32)));

export async function signIn(settings) {
  const verifier = random();
  const state = random();
  sessionStorage.setItem("sign-in", JSON.stringify({ verifier, state }));
  const challenge = encoded(await crypto.subtle.digest("SHA-256", new TextEncoder().encode(verifier)));
  const query = new URLSearchParams({
    response_type: "code",
    client_id: settings.clientId,
    redirect_uri: settings.redirectUri,
    scope: settings.scope,
    state,
    code_challenge: challenge,
    code_challenge_method: "S256",
  });
  location.assign(`${settings.authorizationEndpoint}?${query}`);
}

export async function token(settings) {
  const received = new URLSearchParams(location.search);
  const begun = JSON.parse(sessionStorage.getItem("sign-in") ?? "null");
  sessionStorage.removeItem("sign-in");
  if (!begun || received.get("state") !== begun.state) throw new Error("This sign-in did not begin here.");
  if (received.has("error")) throw new Error(received.get("error_description") ?? received.get("error"));
  const form = new URLSearchParams({
    grant_type: "authorization_code",
    code: received.get("code"),
    client_id: settings.clientId,
    redirect_uri: settings.redirectUri,
    code_verifier: begun.verifier,
  });
  const answer = await (await fetch(settings.tokenEndpoint, { method: "POST", body: form })).json();
  if (answer.error) throw new Error(answer.error_description ?? answer.error);
  return answer; // { access_token, expires_in, refresh_token, … }
}
