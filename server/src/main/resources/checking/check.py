# Checks access tokens in the API itself, with the package PyJWT (and cryptography). Run: python3 check.py TOKEN SCOPE
import os
import sys

import jwt

env = os.environ
keys = jwt.PyJWKClient(env["JWKS_URI"])  # fetched once, and anew when an unknown key id comes


def check(token, scope):
    if jwt.get_unverified_header(token).get("typ") != "at+jwt":
        raise jwt.InvalidTokenError("no access token")
    claims = jwt.decode(
        token,
        keys.get_signing_key_from_jwt(token).key,
        algorithms=env["ALGORITHMS"].split(),
        issuer=env["ISSUER"],
        audience=env["AUDIENCE"],
        leeway=30,
        options={"require": ["sub", "exp", "iss", "aud"]},
    )
    if scope not in claims["scope"].split():
        raise jwt.InvalidTokenError("insufficient_scope")  # answer 403, not 401
    return claims


if __name__ == "__main__":
    try:
        print("admitted", check(sys.argv[1], sys.argv[2])["sub"])
    except (jwt.PyJWTError, KeyError) as refused:
        print("refused:", refused)
        sys.exit(1)
