// node connect.mjs, with the settings in the environment and the private key in the file PRIVATE_KEY (PEM, for ES256).
// RFC 7523 §2.2.
import { createPrivateKey, randomUUID, sign } from "node:crypto";
import { readFileSync } from "node:fs";
const env = process.env;
const part = (json) => Buffer.from(JSON.stringify(json)).toString("base64url");
const now = Math.floor(Date.now() / 1000);
const who = { iss: env.CLIENT_ID, sub: env.CLIENT_ID, aud: env.TOKEN_ENDPOINT };
const input = `${part({ alg: "ES256" })}.${part({ ...who, jti: randomUUID(), iat: now, exp: now + 60 })}`;
const signature = sign("sha256", Buffer.from(input), {
  key: createPrivateKey(readFileSync(env.PRIVATE_KEY)),
  dsaEncoding: "ieee-p1363",
});
const form = new URLSearchParams({
  grant_type: "client_credentials",
  scope: env.SCOPE,
  client_assertion: `${input}.${signature.toString("base64url")}`,
  client_assertion_type: "urn:ietf:params:oauth:client-assertion-type:jwt-bearer",
});
const answer = await fetch(env.TOKEN_ENDPOINT, { method: "POST", body: form });
console.log(await answer.text());
process.exitCode = answer.ok ? 0 : 1;
