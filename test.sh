#!/usr/bin/env bash
# Lint, types, own checks, unit tests, end-to-end tests. The last line, alone, is "N passed, N failed" over all of them.
set -u
cd "$(dirname "$0")" || exit 1
. scripts/prepare.sh
check_node
install_packages

if [ ! -x /usr/bin/chromium ]; then
  if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
    echo "Installing Chromium from Debian's packages ..."
    { apt-get update -q && apt-get install -y -q --no-install-recommends chromium; } >/dev/null 2>&1
  fi
  [ -x /usr/bin/chromium ] || { echo "Chromium is needed for the end-to-end tests: install Debian's package chromium as root (apt-get install chromium)."; exit 1; }
fi

# PostgreSQL is wanted for the server's tests on it; without it they are left out, and that is said.
postgres() { ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1; }
if ! postgres && [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
  echo "Installing PostgreSQL from Debian's packages ..."
  { apt-get update -q && apt-get install -y -q --no-install-recommends postgresql; } >/dev/null 2>&1
fi

passed=0
failed=0
checks=$(mktemp -d)
check() { # check NAME COMMAND...: one check, counted as one test; runs beside others until "collect"
  local name=$1; shift
  ( if "$@" >"$checks/$name.log" 2>&1; then touch "$checks/$name.ok"; fi ) &
  names+=("$name")
  while [ "$(jobs -rp | wc -l)" -ge 2 ]; do wait -n 2>/dev/null || true; done
}
names=()
collect() { # tells how the checks went, in the order in which they were begun
  wait
  local name
  for name in "${names[@]}"; do
    if [ -f "$checks/$name.ok" ]; then passed=$((passed + 1)); echo "ok      $name"
    else failed=$((failed + 1)); echo "FAILED  $name"; cat "$checks/$name.log"; fi
  done
  rm -rf "$checks"
}
suite() { # suite NAME CONFIG: a run of Vitest, every test of it counted
  local report; report=$(mktemp)
  echo "running $1"
  npx --no-install vitest run -c "$2" --reporter=dot --reporter=json --outputFile.json="$report" || true
  local counts
  counts=$(node -e '
    const report = JSON.parse(require("node:fs").readFileSync(process.argv[1], "utf8"));
    const broken = report.testResults.filter((file) => file.status === "failed" && file.assertionResults.every((test) => test.status !== "failed")).length;
    console.log(report.numPassedTests, report.numFailedTests + broken);' "$report" 2>/dev/null) || counts="0 1"
  passed=$((passed + ${counts% *}))
  failed=$((failed + ${counts#* }))
  rm -f "$report"
}

build_if_changed
npx --no-install react-router typegen >/dev/null 2>&1 # the types of routes, which lint and types both read
check "lint, with the directions of imports" npm run --silent lint
check "types" npx --no-install tsc -p .
check "formatting" npx --no-install prettier --check .
check "no dead code" npm run --silent unused
check "participant's script at most 60 kB compressed" node scripts/player-size.mjs
[ -f ../shared/tools/own-words.mjs ] && check "own words" node ../shared/tools/own-words.mjs .
collect
suite "unit tests" vitest.config.ts
if postgres; then suite "the server's tests on PostgreSQL" vitest.postgres.config.ts
else echo "skipped the server's tests on PostgreSQL: install Debian's package postgresql as root (apt-get install postgresql)"; fi
suite "end-to-end tests" vitest.e2e.config.ts

echo "$passed passed, $failed failed"
[ "$failed" -eq 0 ]
