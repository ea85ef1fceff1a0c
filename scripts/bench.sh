#!/usr/bin/env bash
# Measures and prints: the computation, the service, the interface. docs/BENCHMARKS.md keeps the figures.
set -euo pipefail
cd "$(dirname "$0")/.."
scripts/setup.sh tests
scripts/build.sh
echo "Machine: $(nproc) cores, $(sed -n 's/^model name.*: //p' /proc/cpuinfo | head -1); $(date -u +%Y-%m-%d)"
cargo bench --locked -p joulethesis-core --bench estimate 2>/dev/null | grep -E 'allocations|time:|^[a-z0-9].*[a-z]$' | grep -v Benchmarking
cargo bench --locked -p joulethesis-core --bench matching 2>/dev/null | grep "^|"
cargo bench --locked -p joulethesis-core --bench cancelling 2>/dev/null | grep "^|"
JOULETHESIS_DURABLE=yes scripts/with-database.sh bash -c 'cd e2e && npm run --silent bench' | grep -E ' ms| kB'
scripts/with-database.sh bash -c '
    target/debug/joulethesis migrate
    said=$(mktemp)
    start=$(date +%s%N)
    target/debug/joulethesis serve --port 0 > "$said" 2>/dev/null &
    until grep -q http "$said"; do sleep 0.005; done
    echo "start with an existing database: $((($(date +%s%N) - start) / 1000000)) ms"
    kill $!; rm "$said"'
