#!/usr/bin/env bash
# Builds the console into target/site: fetches its libraries where the lock file changed, and compiles where a source
# did.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")"
if ! command -v npm >/dev/null; then
  echo "The console is built with npm, which is not on the PATH. Install Node.js 20 or newer with it." >&2
  exit 1
fi
stamp=target/site.stamp
if [ ! -e node_modules/.package-lock.json ] || [ package-lock.json -nt node_modules/.package-lock.json ]; then
  npm ci --no-audit --no-fund --loglevel=error
  touch node_modules/.package-lock.json
fi
sources="src index.html package-lock.json package.json vite.config.ts tsconfig.json compress.mjs openapi-ts.config.ts
  ../docs/openapi.json"
if [ -e "$stamp" ] && [ -z "$(find $sources -newer "$stamp" -print -quit)" ]; then exit 0; fi
npm run --silent contract
npm run --silent build
mkdir -p target
touch "$stamp"
