// node connect.mjs, with the settings in the environment. Prints an access token (RFC 6749 §4.4).
const env = process.env;
const form = new URLSearchParams({ grant_type: "client_credentials", scope: env.SCOPE });
const headers = {};
if (env.AUTH_METHOD === "client_secret_post") {
  form.set("client_id", env.CLIENT_ID);
  form.set("client_secret", env.CLIENT_SECRET);
} else
  headers.Authorization =
    "Basic " + btoa(`${encodeURIComponent(env.CLIENT_ID)}:${encodeURIComponent(env.CLIENT_SECRET)}`);
const answer = await fetch(env.TOKEN_ENDPOINT, { method: "POST", headers, body: form });
console.log(await answer.text()); // {"access_token": …, "expires_in": …} or {"error": …}
process.exitCode = answer.ok ? 0 : 1;
