#!/usr/bin/env bash
# Starts Lapwing with the demo data. PORT and LAPWING_DATA (data folder) are honoured.
set -u
cd "$(dirname "$0")" || exit 1
. scripts/prepare.sh
check_node
install_packages
build_if_changed
export NODE_ENV=production
exec node build/node/start.js --demo
