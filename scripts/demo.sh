#!/usr/bin/env bash
# Sets up, builds, starts the database, loads the demo and serves until Ctrl-C. Data survive; a second start is fast.
set -euo pipefail
cd "$(dirname "$0")/.."
scripts/setup.sh
scripts/build.sh
exec scripts/run.sh "${1:-demo}"
