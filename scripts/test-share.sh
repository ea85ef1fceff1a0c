#!/usr/bin/env bash
# Prints how much of the code is tests: lines of Rust and TypeScript, generated files left out.
set -euo pipefail
cd "$(dirname "$0")/.."
lines() { git ls-files -z "$@" | grep -zv 'schema\.d\.ts$' | xargs -0 cat | grep -c '[^[:space:]]'; }
all=$(lines '*.rs' '*.ts' '*.tsx')
tests=$(lines 'crates/*/tests/*.rs' 'crates/*/src/*/tests.rs' 'e2e/*.ts')
inline=$(git ls-files -z 'crates/*/src/*.rs' | xargs -0 awk '/^#\[cfg\(test\)\]/ { inside = 1 } /^}/ && inside { n++; inside = 0 } inside && NF { n++ } END { print n + 0 }')
printf 'tests: %d of %d lines, %.1f %%\n' $((tests + inline)) "$all" "$(echo "100 * ($tests + $inline) / $all" | bc -l)"
