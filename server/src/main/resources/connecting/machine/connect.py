# python3 connect.py, with the settings in the environment. Prints an access token (RFC 6749 §4.4).
import os, sys, requests

env = os.environ
form = {"grant_type": "client_credentials", "scope": env["SCOPE"]}
auth = None
if env.get("AUTH_METHOD") == "client_secret_post":
    form |= {"client_id": env["CLIENT_ID"], "client_secret": env["CLIENT_SECRET"]}
else:
    auth = (env["CLIENT_ID"], env["CLIENT_SECRET"])
answer = requests.post(env["TOKEN_ENDPOINT"], data=form, auth=auth, timeout=10)
print(answer.text)  # {"access_token": …, "expires_in": …} or {"error": …}
sys.exit(0 if answer.ok else 1)
