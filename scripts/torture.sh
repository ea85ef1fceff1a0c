#!/usr/bin/env bash
# The same trials as in the tests, for longer and with other draws: TORTURE_S seconds of kills, TORTURE_CASES cases of each property.
set -euo pipefail
cd "$(dirname "$0")/.."
scripts/setup.sh tests
export JOULETHESIS_TORTURE_S=${TORTURE_S:-600} JOULETHESIS_TORTURE_CASES=${TORTURE_CASES:-5000}
cargo test --locked -p joulethesis-core --test fuzz --test verdicts --test hopeful --test laws_of_every_motor -- --nocapture
cargo test --locked -p joulethesis --test durability -- --nocapture
