// node connect.mjs, with the settings in the environment. Shows a code, and waits until a person has typed it (RFC
// 8628).
const env = process.env;
const post = async (url, form) => (await fetch(url, { method: "POST", body: new URLSearchParams(form) })).json();
const begun = await post(env.DEVICE_AUTHORIZATION_ENDPOINT, { client_id: env.CLIENT_ID, scope: env.SCOPE });
console.log(begun.user_code ? `Open ${begun.verification_uri} and type ${begun.user_code}` : JSON.stringify(begun));
let wait = begun.interval ?? 5;
let answer = { error: begun.error ?? "authorization_pending" };
while (answer.error === "authorization_pending" || answer.error === "slow_down") {
  if (answer.error === "slow_down") wait += 5;
  await new Promise((resolve) => setTimeout(resolve, wait * 1000));
  answer = await post(env.TOKEN_ENDPOINT, {
    grant_type: "urn:ietf:params:oauth:grant-type:device_code",
    device_code: begun.device_code,
    client_id: env.CLIENT_ID,
  });
}
console.log(JSON.stringify(answer));
process.exitCode = answer.access_token ? 0 : 1;
