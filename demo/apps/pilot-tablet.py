#!/usr/bin/env python3
"""An application installed on a person's machine: a code comes back on loopback (RFC 8252); it reads the tide,
    then books a berth.

Usage: pilot-tablet.py ISSUER GATEWAY CLIENT-ID
"""
import base64, hashlib, http.server, json, secrets, sys, urllib.error, urllib.parse, urllib.request

issuer, gateway, client = sys.argv[1:4]


def fetch(url, form=None, token=None, body=None):
    data = urllib.parse.urlencode(form).encode() if form else body
    request = urllib.request.Request(url, data=data)
    if token:
        request.add_header("Authorization", "Bearer " + token)
    if body:
        request.add_header("Content-Type", "application/json")
    try:
        with urllib.request.urlopen(request, timeout=20) as answer:
            return json.load(answer)
    except urllib.error.HTTPError as refused:
        return json.load(refused)


metadata = fetch(issuer + "/.well-known/openid-configuration")
verifier, state = secrets.token_urlsafe(48), secrets.token_urlsafe(24)
challenge = base64.urlsafe_b64encode(hashlib.sha256(verifier.encode()).digest()).rstrip(b"=").decode()
received = {}


class Back(http.server.BaseHTTPRequestHandler):
    def do_GET(self):
        received.update(urllib.parse.parse_qsl(urllib.parse.urlsplit(self.path).query))
        self.send_response(200)
        self.end_headers()
        self.wfile.write(b"You can close this page.")

    def log_message(self, *ignored):
        pass


listener = http.server.HTTPServer(("127.0.0.1", 0), Back)
callback = "http://127.0.0.1:%d/back" % listener.server_port
tides, berths = "https://tides.saltmarsh.example", "https://berths.saltmarsh.example"
print("Open in a browser:\n%s?%s" % (metadata["authorization_endpoint"], urllib.parse.urlencode([
    ("client_id", client), ("redirect_uri", callback), ("response_type", "code"), ("scope",
        "openid offline_access tides.read berths.book"), ("state", state),
    ("code_challenge", challenge), ("code_challenge_method", "S256"), ("resource", tides), ("resource", berths)])),
        flush=True)
listener.handle_request()
if received.get("state") != state or received.get("iss") != issuer:
    sys.exit("This is no answer to what was asked.")
if "error" in received:
    sys.exit("Refused: " + came["error_description"])
tokens = fetch(metadata["token_endpoint"], {"grant_type": "authorization_code", "code": came["code"],
    "redirect_uri": callback, "code_verifier": verifier, "client_id": client})
print("Tide:", fetch(gateway + "/tides/north-quay", token=tokens["access_token"])["heights"][0])
tokens = fetch(metadata["token_endpoint"], {"grant_type": "refresh_token",
    "refresh_token": tokens["refresh_token"], "resource": berths, "client_id": client})
print("Booking:", fetch(gateway + "/berths/n1/bookings", token=tokens["access_token"], body=b'{"ship":"Grey Heron"}'))
