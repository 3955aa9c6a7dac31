# What ./start, ./check and ./satchel share: getting what is missing. Sourced, not run.

say() { printf '%s\n' "$*" >&2; }

need_node() {
  if ! command -v node >/dev/null || ! node -e 'const [a, b] = process.versions.node.split("."); process.exit(+a > 20 || (+a === 20 && +b >= 19) ? 0 : 1)'; then
    say 'Node.js 20.19 or newer is needed: install it (for example with apt-get install nodejs npm), then start again.'
    exit 1
  fi
}

# need_debian PACKAGE:FILE... installs the packages whose file is not there. The file may be a pattern.
need_debian() {
  local missing=() pair
  for pair in "$@"; do
    compgen -G "${pair#*:}" >/dev/null || missing+=("${pair%%:*}")
  done
  [ ${#missing[@]} -eq 0 ] && return
  local as_root=()
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || { say "Missing: ${missing[*]}. Run apt-get install ${missing[*]} as root, then start again."; exit 1; }
    as_root=(sudo)
  fi
  say "Installing ${missing[*]} ..."
  if ! { "${as_root[@]}" apt-get update -qq && "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}"; } >/dev/null; then
    say "Could not install ${missing[*]}: run apt-get install ${missing[*]} by hand to see why."
    exit 1
  fi
}

# Installs the locked npm packages when the lock file has changed since the last time.
need_packages() {
  local stamp=node_modules/.satchel-lock
  if ! cmp -s package-lock.json "$stamp" 2>/dev/null; then
    say 'Installing npm packages ...'
    npm ci --no-audit --no-fund --loglevel=error >&2
    cp package-lock.json "$stamp"
  fi
}
