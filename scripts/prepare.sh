# Sourced by demo.sh, test.sh and lapwing: checks Node, installs what is missing, builds what has changed.
# Everything it prints goes to standard error, so that a command's own output stays clean.

check_node() {
  if ! command -v node >/dev/null 2>&1; then echo "Node.js is not installed. Lapwing needs version 20.19 or newer." >&2; exit 1; fi
  if ! node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'; then
    echo "This is Node.js $(node -v); Lapwing needs version 20.19 or newer." >&2; exit 1
  fi
}

# The lock file is compared with the one the present node_modules were installed from. "npm ci" is not used: it refuses a
# lock file that lacks packages for other systems, which a registry may not carry. "npm install" takes the locked versions too.
install_packages() {
  if ! cmp -s package-lock.json node_modules/.lapwing-lock.json; then
    echo "Installing packages (about two minutes, once) ..." >&2
    npm install --no-save --loglevel=error --no-fund --no-audit >&2 || { echo "The packages could not be installed; npm says why above." >&2; exit 1; }
    cp package-lock.json node_modules/.lapwing-lock.json
  fi
}

sources_changed() {
  [ -f build/.built ] || return 0
  [ -n "$(find app core server player workers cli demo public *.config.ts tsconfig.json package-lock.json -newer build/.built -type f -print -quit)" ]
}

build_if_changed() {
  if sources_changed; then
    echo "Building ..." >&2
    local log; log=$(mktemp)
    local stamp; stamp=$(mktemp)
    if ! npm run --silent build >"$log" 2>&1; then cat "$log" >&2; echo "The build failed; the reason stands above." >&2; exit 1; fi
    mv "$stamp" build/.built; rm -f "$log"
  fi
}
