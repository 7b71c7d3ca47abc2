"use strict";
// A single-page application: code with PKCE, no secret, tokens in memory alone.
const show = (id, text) => {
  document.getElementById(id).textContent = text;
};
const base64url = (bytes) =>
  btoa(String.fromCharCode(...new Uint8Array(bytes)))
    .replaceAll("+", "-")
    .replaceAll("/", "_")
    .replaceAll("=", "");
const random = () => base64url(crypto.getRandomValues(new Uint8Array(32)));
const callback = location.origin + "/back";

async function discover() {
  return (await fetch(config.issuer + "/.well-known/openid-configuration")).json();
}

async function signIn() {
  const metadata = await discover();
  const begun = { verifier: random(), state: random() };
  sessionStorage.setItem("begun", JSON.stringify(begun));
  const challenge = base64url(await crypto.subtle.digest("SHA-256", new TextEncoder().encode(begun.verifier)));
  const request = new URLSearchParams({
    client_id: config.clientId,
    redirect_uri: callback,
    response_type: "code",
    scope: "openid tides.read berths.read",
    state: begun.state,
    code_challenge: challenge,
    code_challenge_method: "S256",
  });
  for (const audience of config.audiences) request.append("resource", audience);
  location.assign(metadata.authorization_endpoint + "?" + request);
}

async function token(metadata, form) {
  const answer = await fetch(metadata.token_endpoint, {
    method: "POST",
    body: new URLSearchParams({ client_id: config.clientId, ...form }),
  });
  const body = await answer.json();
  if (!answer.ok) throw new Error(body.error_description);
  return body;
}

async function call(path, accessToken) {
  const answer = await fetch(config.gateway + path, { headers: { Authorization: "Bearer " + accessToken } });
  const body = await answer.json();
  if (!answer.ok) throw new Error(body.detail ?? answer.status);
  return body;
}

async function back() {
  const answer = new URLSearchParams(location.search);
  const begun = JSON.parse(sessionStorage.getItem("begun") ?? "{}");
  sessionStorage.removeItem("begun");
  history.replaceState(null, "", "/");
  if (answer.get("state") !== begun.state || answer.get("iss") !== config.issuer)
    throw new Error("This is no answer to what was asked here.");
  if (answer.has("error")) throw new Error(answer.get("error_description"));
  const metadata = await discover();
  const first = await token(metadata, {
    grant_type: "authorization_code",
    code: answer.get("code"),
    redirect_uri: callback,
    code_verifier: begun.verifier,
  });
  show("who", "Signed in.");
  document.getElementById("in").hidden = true;
  const out = document.getElementById("out");
  out.hidden = false;
  out.onclick = () =>
    location.assign(
      metadata.end_session_endpoint +
        "?" +
        new URLSearchParams({ id_token_hint: first.id_token, post_logout_redirect_uri: location.origin + "/" }),
    );
  const tides = await call("/tides/north-quay", first.access_token);
  const table = document.getElementById("tides");
  table.hidden = false;
  for (const height of tides.heights) {
    const row = table.tBodies[0].insertRow();
    row.insertCell().textContent = new Date(height.at).toLocaleTimeString();
    row.insertCell().textContent = height.metres.toFixed(2) + " m";
  }
  const second = await token(metadata, {
    grant_type: "refresh_token",
    refresh_token: first.refresh_token,
    resource: config.audiences[1],
  });
  const berth = await call("/berths/n1", second.access_token);
  show("berth", "Berth n1: " + (berth.ship ?? "free"));
}

document.getElementById("in").onclick = () => signIn().catch((fault) => show("fault", fault.message));
if (location.pathname === "/back") back().catch((fault) => show("fault", fault.message));
