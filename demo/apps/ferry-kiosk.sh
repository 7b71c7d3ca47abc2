#!/usr/bin/env bash
# A kiosk without a browser: it shows a short code, waits for a person to approve it elsewhere, and shows the tide
# (RFC 8628).
# Usage: ferry-kiosk.sh ISSUER GATEWAY CLIENT-ID
set -euo pipefail
issuer=$1 gateway=$2 client=$3
member() { sed -n "s/.*\"$1\":\"\{0,1\}\([^\",}]*\).*/\1/p"; }
begun=$(curl -sS -d client_id="$client" -d scope=tides.read "$issuer/device_authorization")
device=$(member device_code <<<"$begun") interval=$(member interval <<<"$begun")
[ -n "$device" ] || { echo "Not begun: $begun" >&2; exit 1; }
echo "Open $(member verification_uri <<<"$begun") and type $(member user_code <<<"$begun")"
while sleep "$interval"; do
  answer=$(curl -sS -d grant_type=urn:ietf:params:oauth:grant-type:device_code -d device_code="$device" \
    -d client_id="$client" "$issuer/token")
  case $(member error <<<"$answer") in
    authorization_pending) ;;
    slow_down) interval=$((interval + 5)) ;;
    "") break ;;
    *) echo "Refused: $(member error <<<"$answer")" >&2; exit 1 ;;
  esac
done
curl -sS -H "Authorization: Bearer $(member access_token <<<"$answer")" "$gateway/tides/north-quay"
echo
