#!/usr/bin/env bash
# Builds the program and, when its sources changed, the interface; "build.sh interface" builds that alone.
set -euo pipefail
cd "$(dirname "$0")/.."
# The whole workspace, as the tests do: a part of it would be built with other features, and all of it twice.
if [ "${1:-}" != interface ]; then cargo build --quiet --locked --workspace; fi
if [ ! -e web/dist/index.html ] || [ -n "$(find web/src web/index.html web/package.json web/package-lock.json web/vite.config.ts web/compress.mjs web/subset-fonts.mjs -newer web/dist/index.html -print -quit)" ]; then
    echo "Building the interface"
    (cd web && npm run --silent build)
fi
