#!/usr/bin/env bash
# Starts Lapwing with the demo data. PORT and LAPWING_DATA (data folder) are honoured.
set -u
# A relative data folder is meant from where the command is called.
[ -z "${LAPWING_DATA:-}" ] || case $LAPWING_DATA in /*) ;; *) export LAPWING_DATA="$PWD/$LAPWING_DATA" ;; esac
cd "$(dirname "$0")" || exit 1
. scripts/prepare.sh
check_node
install_packages
build_if_changed
export NODE_ENV=production
exec node build/node/start.js --demo
