#!/usr/bin/env bash
# Runs a command with a PostgreSQL cluster of its own in DATABASE_URL: scripts/with-database.sh cargo test
# It trades durability for speed, unless JOULETHESIS_DURABLE is set.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
dir=$(mktemp -d /tmp/joulethesis-test.XXXXXX)
if [ "$(id -u)" = 0 ]; then chown postgres: "$dir"; fi
trap '"$here/scripts/postgres.sh" stop "$dir/pg"; rm -rf "$dir"' EXIT
chmod 755 "$dir"
DATABASE_URL=$("$here/scripts/postgres.sh" start "$dir/pg" ${JOULETHESIS_DURABLE:-throwaway})
export DATABASE_URL
"$@"
