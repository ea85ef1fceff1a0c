#!/usr/bin/env bash
# Sets up, builds, starts the database, loads the demo and serves until Ctrl-C. Data survive; a second start is fast.
set -euo pipefail
cd "$(dirname "$0")/.."

scripts/setup.sh
scripts/build.sh
folder=$(scripts/postgres.sh folder)
DATABASE_URL=$(scripts/postgres.sh start "$folder")
export DATABASE_URL
trap 'scripts/postgres.sh stop "$folder"; echo "Stopped. Data are kept in $folder"' EXIT
# Ctrl-C reaches the server too; this shell waits for it to end and then stops the database.
trap : INT TERM
target/debug/joulethesis "${1:-demo}" --web web/dist --port "${PORT:-8080}" &
server=$!
trap 'kill -TERM $server 2>/dev/null || true' INT TERM
while kill -0 "$server" 2>/dev/null; do wait "$server" || true; done
