#!/usr/bin/env bash
# The same trials as in the tests, for longer and with other draws: TORTURE_S seconds of kills, TORTURE_CASES cases of each property.
set -euo pipefail
cd "$(dirname "$0")/.."
scripts/setup.sh tests
export JOULETHESIS_TORTURE_S=${TORTURE_S:-600} JOULETHESIS_TORTURE_CASES=${TORTURE_CASES:-5000}
cargo test --locked --workspace --test checks -- --nocapture fuzz:: verdicts:: hopeful:: laws_of_every_motor:: brute_force::
scripts/with-database.sh cargo test --locked --workspace --test service -- --nocapture fuzz::
cargo test --locked --workspace --test program -- --nocapture durability::
