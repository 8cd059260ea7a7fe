# Sourced by ./run and ./test: what both need, each step skipped when its stamp says it was done for these files.
say() { printf '  %s\n' "$*" >&2; }
stop() { printf 'yeasty: %s\n' "$*" >&2; exit 2; }

DEBIAN_SERVE="postgresql python3-venv libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0"
DEBIAN_TEST="chromium"

missing_debian() {
  local missing="" libraries
  # Read whole: a pipe into grep -q would end ldconfig early, and pipefail would take that for a library missing.
  libraries=$(ldconfig -p 2>/dev/null || /sbin/ldconfig -p 2>/dev/null || true)
  ls /usr/lib/postgresql/*/bin/postgres >/dev/null 2>&1 || command -v postgres >/dev/null || missing="$missing postgresql"
  python3 -c 'import ensurepip, venv' 2>/dev/null || missing="$missing python3-venv"
  for lib in libpango-1.0.so.0 libpangoft2-1.0.so.0 libharfbuzz-subset.so.0; do
    [[ $libraries == *"$lib"* ]] || case $lib in
      libpango-1*) missing="$missing libpango-1.0-0" ;;
      libpangoft2*) missing="$missing libpangoft2-1.0-0" ;;
      *) missing="$missing libharfbuzz-subset0" ;;
    esac
  done
  [ "$1" = test ] && { [ -x /usr/bin/chromium ] || missing="$missing chromium"; }
  echo $missing
}

setup_debian() {
  local missing
  missing=$(missing_debian "$1")
  [ -z "$missing" ] && return 0
  if [ "$(id -u)" != 0 ]; then
    stop "these Debian packages are missing. Have them installed with:  sudo apt-get install --no-install-recommends $missing"
  fi
  command -v apt-get >/dev/null || stop "these packages are missing, and there is no apt-get to install them: $missing"
  say "Installing Debian packages:$(printf ' %s' $missing)"
  export DEBIAN_FRONTEND=noninteractive
  # Debian's own default cluster is not wanted: the program runs one of its own.
  if [ ! -e /etc/postgresql-common/createcluster.conf ]; then
    mkdir -p /etc/postgresql-common
    echo "create_main_cluster = false" > /etc/postgresql-common/createcluster.conf
  elif ! ls /etc/postgresql/*/ >/dev/null 2>&1 && ! grep -Eq '^create_main_cluster *= *false' /etc/postgresql-common/createcluster.conf; then
    sed -i 's/^#\? *create_main_cluster.*/create_main_cluster = false/' /etc/postgresql-common/createcluster.conf
  fi
  { apt-get update -qq && apt-get install -y -qq --no-install-recommends -o Dpkg::Options::=--force-confold $missing; } >/tmp/yeasty-apt.$$ 2>&1 ||
    { tail -3 /tmp/yeasty-apt.$$ >&2; rm -f /tmp/yeasty-apt.$$; stop "Debian's packages could not be installed; see above."; }
  rm -f /tmp/yeasty-apt.$$
}

sum_of() { cat "$@" | sha256sum | cut -d' ' -f1; }
done_for() { [ -e "$1" ] && [ "$(cat "$1")" = "$2" ]; }

setup_python() {
  local lock="requirements/$1.lock" how="" sum
  # Of all that tests and checks need, most is never loaded: what is loaded is compiled then.
  [ "$1" = dev ] && how="--no-compile"
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || stop "Python 3.11 or newer is needed; here is $(python3 --version)."
  sum=$(sum_of requirements/*.lock; python3 --version)
  if [ "$1" = runtime ] && done_for .venv/.stamp-dev "$sum"; then return 0; fi
  done_for ".venv/.stamp-$1" "$sum" && return 0
  say "Installing Python packages (about a minute the first time) …"
  [ -x .venv/bin/python ] && .venv/bin/python -c '' 2>/dev/null || python3 -m venv --clear .venv || stop "the folder .venv could not be made; is the disk full?"
  .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes $how -r "$lock" >.venv/pip.log 2>&1 ||
    { grep -iE 'error|space' .venv/pip.log | head -3 >&2; stop "Python packages could not be installed; see .venv/pip.log."; }
  echo "$sum" > ".venv/.stamp-$1"
}

node_is_new_enough() { node -e 'const [a,b]=process.versions.node.split(".").map(Number);process.exit(a>22||(a===22&&b>=12)||(a===20&&b>=19)?0:1)' 2>/dev/null; }

setup_node() {
  node_is_new_enough && command -v npm >/dev/null && return 0
  if [ ! -x .venv/bin/node ]; then
    say "Installing Node from a Python wheel (here is $(node --version 2>/dev/null || echo none)) …"
    .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r requirements/node.lock >.venv/pip-node.log 2>&1 || stop "Node could not be installed; see .venv/pip-node.log."
  fi
  export PATH="$PWD/.venv/bin:$PATH"
  hash -r
  node_is_new_enough || stop "Node 20.19 or newer is needed, and the one from the wheel does not run here."
}

setup_npm() {
  local sum
  sum=$(sum_of web/package-lock.json web/package.json)
  done_for web/node_modules/.stamp "$sum" && return 0
  setup_node
  say "Installing the front end's packages …"
  (cd web && npm ci --ignore-scripts --no-audit --no-fund --loglevel=error >/tmp/yeasty-npm.$$ 2>&1) ||
    { grep -m4 'npm error [^ ]' /tmp/yeasty-npm.$$ >&2; rm -f /tmp/yeasty-npm.$$; stop "the front end's packages could not be installed; see above."; }
  rm -f /tmp/yeasty-npm.$$
  echo "$sum" > web/node_modules/.stamp
}

setup_front() {
  local sum
  sum=$(find web/src web/public web/index.html web/*.ts web/package-lock.json -type f | LC_ALL=C sort | xargs cat | sha256sum | cut -d' ' -f1)
  done_for web/dist/.stamp "$sum" && return 0
  setup_npm
  setup_node
  say "Building the front end …"
  (cd web && npx --no-install vite build --logLevel warn) >/tmp/yeasty-vite.$$ 2>&1 || { tail -20 /tmp/yeasty-vite.$$ >&2; rm -f /tmp/yeasty-vite.$$; stop "the front end could not be built; see above."; }
  rm -f /tmp/yeasty-vite.$$
  echo "$sum" > web/dist/.stamp
}

setup_all() {
  setup_debian "$1"
  if [ "$1" = test ]; then setup_python dev; else setup_python runtime; fi
  setup_front
}
