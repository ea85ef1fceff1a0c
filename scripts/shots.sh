#!/usr/bin/env bash
# Refreshes docs/screenshots from the demo data.
set -euo pipefail
cd "$(dirname "$0")/.."
scripts/setup.sh tests
scripts/build.sh
mkdir -p docs/screenshots
scripts/with-database.sh bash -c 'cd e2e && npm run --silent shots'
