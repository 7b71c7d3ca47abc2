# python3 connect.py, with the settings in the environment. Shows a code, and waits until a person has typed it (RFC
# 8628).
import json, os, sys, time, requests

env = os.environ
begun = requests.post(env["DEVICE_AUTHORIZATION_ENDPOINT"], data={"client_id": env["CLIENT_ID"],
    "scope": env["SCOPE"]}, timeout=10).json()
print(f"Open {begun['verification_uri']} and type {begun['user_code']}" if "user_code" in begun else begun, flush=True)
wait, answer = begun.get("interval", 5), {"error": begun.get("error", "authorization_pending")}
while answer.get("error") in ("authorization_pending", "slow_down"):
    wait += 5 if answer["error"] == "slow_down" else 0
    time.sleep(wait)
    form = {"grant_type": "urn:ietf:params:oauth:grant-type:device_code", "device_code": begun["device_code"],
        "client_id": env["CLIENT_ID"]}
    answer = requests.post(env["TOKEN_ENDPOINT"], data=form, timeout=10).json()
print(json.dumps(answer))
sys.exit(0 if "access_token" in answer else 1)
