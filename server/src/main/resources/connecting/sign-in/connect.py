# python3 connect.py prints where to send the browser, and a verifier to keep; python3 connect.py CODE VERIFIER
# exchanges the code that came back (RFC 6749 §4.1, RFC 7636). The settings are in the environment.
import base64, hashlib, os, secrets, sys
from urllib.parse import urlencode
import requests

env = os.environ
if len(sys.argv) == 1:
    verifier = secrets.token_urlsafe(32)
    challenge = base64.urlsafe_b64encode(hashlib.sha256(verifier.encode()).digest()).rstrip(b"=").decode()
    query = {"response_type": "code", "client_id": env["CLIENT_ID"], "redirect_uri": env["REDIRECT_URI"],
        "scope": env["SCOPE"], "state": secrets.token_urlsafe(16),
             "code_challenge": challenge, "code_challenge_method": "S256"}
    print(env["AUTHORIZATION_ENDPOINT"] + "?" + urlencode(query))
    print(verifier)  # keep it and the state with the browser's session, and compare the state when the browser is back
else:
    form = {"grant_type": "authorization_code", "code": sys.argv[1], "code_verifier": sys.argv[2],
        "redirect_uri": env["REDIRECT_URI"]}
    secret, post = env.get("CLIENT_SECRET"), env.get("AUTH_METHOD") == "client_secret_post"
    if not secret or post:
        form["client_id"] = env["CLIENT_ID"]
    if secret and post:
        form["client_secret"] = secret
    pair = (env["CLIENT_ID"], secret) if secret and not post else None
    answer = requests.post(env["TOKEN_ENDPOINT"], data=form, auth=pair, timeout=10)
    print(answer.text)
    sys.exit(0 if answer.ok else 1)
