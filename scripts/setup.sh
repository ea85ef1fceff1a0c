#!/usr/bin/env bash
# Installs what a fresh Debian machine lacks: PostgreSQL always, Chromium's shell without windows for the tests ("setup.sh tests"), npm packages.
set -euo pipefail
cd "$(dirname "$0")/.."

packages=()
compgen -G '/usr/lib/postgresql/*/bin/initdb' >/dev/null || packages+=(postgresql)
if [ "${1:-}" = tests ] && ! command -v chromium-headless-shell >/dev/null; then packages+=(chromium-headless-shell); fi
if [ ${#packages[@]} -gt 0 ]; then
    echo "Installing Debian packages: ${packages[*]}"
    as_root=(); [ "$(id -u)" = 0 ] || as_root=(sudo)
    "${as_root[@]}" apt-get update -qq
    # The package's own cluster is not wanted: each of ours has a folder of its own.
    "${as_root[@]}" install -d /etc/postgresql-common
    [ -e /etc/postgresql-common/createcluster.conf ] ||
        echo 'create_main_cluster = false' | "${as_root[@]}" tee /etc/postgresql-common/createcluster.conf >/dev/null
    "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${packages[@]}" >/dev/null
fi

# Installs again only when the lock file is newer than the last install.
npm_packages() {
    if [ ! -e "$1/node_modules/.package-lock.json" ] || [ "$1/package-lock.json" -nt "$1/node_modules/.installed" ]; then
        echo "Installing npm packages in $1"
        (cd "$1" && PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1 npm ci --no-audit --no-fund --loglevel=error)
        touch "$1/node_modules/.installed"
    fi
}
npm_packages web
if [ "${1:-}" = tests ]; then npm_packages e2e; fi
