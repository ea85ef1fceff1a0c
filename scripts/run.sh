#!/usr/bin/env bash
# Runs database and server and watches both: one that is killed is started again, one that does not stay up ends the run with words.
#   run.sh demo|serve
set -euo pipefail
cd "$(dirname "$0")/.."
mode=${1:-demo}
folder=$(scripts/postgres.sh folder)
mkdir -p "$(dirname "$folder")"
# Two runs of one checkout would stop each other's database.
exec 9>"$folder.lock"
if ! flock -n 9; then
    echo "This checkout is being served already; stop that first, or serve from another one (JOULETHESIS_DATA names another folder of data)." >&2
    exit 1
fi
stopping=0
server=
trap 'stopping=1' INT TERM

start_database() { DATABASE_URL=$(scripts/postgres.sh start "$folder" 9>&-) && export DATABASE_URL; }
start_server() { target/debug/joulethesis "$mode" --web web/dist --port "${PORT:-8080}" 9>&- & server=$!; }
wait_for() { sleep "$1" 9>&- & wait $! 2>/dev/null || true; }

finish() {
    trap '' INT TERM
    if [ -n "$server" ] && kill -TERM "$server" 2>/dev/null; then
        # It gives itself a few seconds.
        for _ in $(seq 80); do kill -0 "$server" 2>/dev/null || break; sleep 0.1; done
        kill -KILL "$server" 2>/dev/null || true
    fi
    scripts/postgres.sh stop "$folder" 9>&-
    echo "Stopped. Data are kept in $folder"
}
trap finish EXIT

start_database
start_server
failures=0
quiet=0
while [ "$stopping" = 0 ]; do
    wait_for 1
    [ "$stopping" = 0 ] || break
    if ! scripts/postgres.sh running "$folder" 9>&-; then
        failures=$((failures + 1)); quiet=0
        echo "The database has ended; it is started again." >&2
        start_database || { echo "The database cannot be started; see $folder/log" >&2; exit 1; }
    fi
    if ! kill -0 "$server" 2>/dev/null; then
        status=0; wait "$server" || status=$?
        [ "$stopping" = 0 ] || break
        failures=$((failures + 1)); quiet=0
        [ "$failures" -gt 5 ] || { echo "The server has ended with status $status; it is started again." >&2; start_server; }
    fi
    if [ "$failures" -gt 5 ]; then
        echo "Server or database end again and again; the run is given up. The lines above say why; the database's log is $folder/log" >&2
        exit 1
    fi
    # A minute without trouble makes up for what was.
    quiet=$((quiet + 1)); [ "$quiet" -lt 60 ] || failures=0
done
