#!/usr/bin/env bash
# Writes the files that are made from the program; "generate.sh check" fails when one is out of date, by the program as it is built.
set -euo pipefail
cd "$(dirname "$0")/.."
if [ "${1:-}" != check ]; then cargo build --quiet --locked --workspace; fi
out=$(mktemp -d)
trap 'rm -rf "$out"' EXIT
target/debug/joulethesis openapi > "$out/openapi.json"
target/debug/joulethesis generate interface > "$out/catalogue.json"
(cd web && npx --no-install openapi-typescript "$out/openapi.json" --default-non-nullable=false -o "$out/schema.d.ts" >/dev/null)
target/debug/joulethesis schema design > "$out/design.schema.json"
# Everything after the marker in docs/FORMATS.md is generated.
{ sed '/<!-- generated -->/q' docs/FORMATS.md; target/debug/joulethesis generate formats; } > "$out/FORMATS.md"
status=0
place() {
    if [ "${mode:-}" = check ]; then
        cmp -s "$out/$1" "$2" || { echo "$2 is out of date: run scripts/generate.sh"; status=1; }
    else
        cp "$out/$1" "$2"
    fi
}
mode=${1:-}
place openapi.json web/src/api/openapi.json
place schema.d.ts web/src/api/schema.d.ts
place catalogue.json web/src/units/catalogue.json
place design.schema.json docs/design.schema.json
place FORMATS.md docs/FORMATS.md
exit $status
