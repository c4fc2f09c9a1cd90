#!/bin/sh
# Makes web/src/api/schema.d.ts from the API; with --check, says whether it is up to date.
set -eu
cd "$(dirname "$0")/.."
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
.venv/bin/python -m wardrobe.server.openapi > "$work/openapi.json"
(cd web && node_modules/.bin/openapi-typescript "$work/openapi.json" -o "$work/schema.d.ts" >/dev/null 2>&1)
if [ "${1:-}" = --check ]; then
    cmp -s "$work/schema.d.ts" web/src/api/schema.d.ts ||
        { echo "web/src/api/schema.d.ts is out of date; run: make api" >&2; exit 1; }
else
    cp "$work/schema.d.ts" web/src/api/schema.d.ts
fi
