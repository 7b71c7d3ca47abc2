# python3 connect.py, with the settings in the environment and the private key in the file PRIVATE_KEY (PEM, for
# ES256). RFC 7523 §2.2.
import os, sys, time, uuid
import jwt, requests

env = os.environ
now = int(time.time())
claims = {"iss": env["CLIENT_ID"], "sub": env["CLIENT_ID"], "aud": env["TOKEN_ENDPOINT"], "jti": str(uuid.uuid4()),
    "iat": now, "exp": now + 60}
form = {"grant_type": "client_credentials", "scope": env["SCOPE"], "client_assertion": jwt.encode(claims,
    open(env["PRIVATE_KEY"]).read(), algorithm="ES256"),
        "client_assertion_type": "urn:ietf:params:oauth:client-assertion-type:jwt-bearer"}
answer = requests.post(env["TOKEN_ENDPOINT"], data=form, timeout=10)
print(answer.text)
sys.exit(0 if answer.ok else 1)
