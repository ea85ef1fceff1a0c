#!/usr/bin/env bash
# A private PostgreSQL cluster on loopback, in a folder of its own.
#   postgres.sh start DIR [throwaway]   makes the cluster if need be, starts it, prints its DATABASE_URL
#   postgres.sh running DIR             succeeds while it runs
#   postgres.sh stop DIR                stops it
#   postgres.sh folder                  prints the folder of this checkout's lasting cluster
# The program's role, app, owns its database and may make others; the superuser is the owner of the files, known by the system alone and
# without a password. Passwords stand in files, never on a command line. A throwaway cluster trades durability for speed: for tests only.
set -euo pipefail

bin=$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)
here=$(cd "$(dirname "$0")/.." && pwd)

# initdb refuses to run as root; Debian's postgres user does it then.
as_owner() {
    if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi
}

folder() {
    local id
    id=$(printf %s "$here" | sha256sum | cut -c1-12)
    if [ -n "${JOULETHESIS_DATA:-}" ]; then echo "$JOULETHESIS_DATA"
    elif [ "$(id -u)" = 0 ]; then echo "/var/lib/joulethesis/$id"
    else echo "${XDG_STATE_HOME:-$HOME/.local/state}/joulethesis/$id"; fi
}

# A port nobody listens at: the wanted one if it is free.
free_port() {
    node -e 'const n = require("net"); const at = (p, no) => { const s = n.createServer(); s.once("error", no);
        s.listen(p, "127.0.0.1", () => { console.log(s.address().port); s.close(); }); };
        at(Number(process.argv[1]) || 0, () => at(0, () => process.exit(1)))' "${1:-0}"
}

make_cluster() {
    local dir=$1
    if [ "$(id -u)" = 0 ]; then
        install -d -m 755 "$(dirname "$dir")"
        install -d -o postgres -g postgres -m 700 "$dir"
    else
        install -d -m 700 "$dir"
    fi
    as_owner bash -c 'umask 077; head -c 24 /dev/urandom | base64 | tr -dc A-Za-z0-9 > "$1/password"
        { printf "127.0.0.1:*:*:app:"; cat "$1/password"; } > "$1/pgpass"' _ "$dir"
    # Made beside and moved into place, so that one cut short is made anew.
    as_owner rm -rf "$dir/new"
    as_owner "$bin/initdb" -D "$dir/new" --data-checksums --auth-local=peer --auth-host=scram-sha-256 -E UTF8 --locale=C.UTF-8 >/dev/null
    as_owner mv "$dir/new" "$dir/data"
}

# The program's role and database, over the socket as the owner of the cluster.
make_role() {
    local dir=$1 port=$2
    as_owner bash -c 'umask 077
        sql() { "$2/psql" -qAtX -v ON_ERROR_STOP=1 -h "$1" -p "$3" -d postgres; }
        if ! echo "SELECT 1 FROM pg_roles WHERE rolname = '"'app'"'" | sql "$@" | grep -q 1; then
            printf "CREATE ROLE app LOGIN CREATEDB PASSWORD '"'%s'"';" "$(cat "$1/password")" | sql "$@"
        fi
        if ! echo "SELECT 1 FROM pg_database WHERE datname = '"'joulethesis'"'" | sql "$@" | grep -q 1; then
            echo "CREATE DATABASE joulethesis OWNER app" | sql "$@"
        fi' _ "$dir" "$bin" "$port"
}

start() {
    local dir=$1 throwaway=${2:-} options port
    [ -e "$dir/data/PG_VERSION" ] || make_cluster "$dir"
    if ! running "$dir"; then
        # The same port as last time where it is free, so that a program that lost its database finds it again.
        port=$(free_port "$(as_owner cat "$dir/port" 2>/dev/null || true)")
        as_owner bash -c 'echo "$2" > "$1/port"' _ "$dir" "$port"
        options="-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories=$dir"
        if [ "$throwaway" = throwaway ]; then
            options+=" -c fsync=off -c synchronous_commit=off -c full_page_writes=off -c wal_level=minimal -c max_wal_senders=0 -c max_connections=200"
        fi
        if ! as_owner "$bin/pg_ctl" -D "$dir/data" -w -s -l "$dir/log" -o "$options" start >&2; then
            echo "PostgreSQL did not start; its log:" >&2
            as_owner tail -20 "$dir/log" >&2
            return 1
        fi
    fi
    port=$(as_owner sed -n 4p "$dir/data/postmaster.pid")
    # A cluster of an earlier version knows no owner over the socket; its role and database are there already.
    [ ! -e "$dir/pgpass" ] || make_role "$dir" "$port"
    echo "postgres://app:$(as_owner cat "$dir/password")@127.0.0.1:$port/joulethesis"
}

running() {
    as_owner "$bin/pg_ctl" -D "$1/data" status >/dev/null 2>&1
}

stop() {
    as_owner "$bin/pg_ctl" -D "$1/data" -m fast -w -s stop >/dev/null 2>&1 || true
}

case "${1:-}" in
    start) start "${2:?folder}" "${3:-}" ;;
    running) running "${2:?folder}" ;;
    stop) stop "${2:?folder}" ;;
    folder) folder ;;
    *) sed -n '2,7p' "$0"; exit 2 ;;
esac
