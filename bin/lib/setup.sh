# Shared by bin/demo, bin/test and bin/driftfield: sets up what is missing and skips what is there.
# Each step leaves a stamp that names what it was made from; a changed lock file makes it run again.

root=$(cd "$(dirname "${BASH_SOURCE[0]}")/../.." && pwd)
venv="$root/.venv"
stamps="$venv/stamps"
# A program starts in less than half the time when what it imports was compiled before. That is kept in .venv, also
# where the surroundings forbid it to lie beside the sources.
unset PYTHONDONTWRITEBYTECODE
export PYTHONPYCACHEPREFIX="$venv/compiled"

fail() { printf '%s\n' "$*" >&2; exit 1; }
say() { printf '%s\n' "$*" >&2; }

need_space() {
  local free
  free=$(df -Pm "$root" | awk 'NR==2 {print $4}')
  [ "$free" -ge "$1" ] || fail "The disk is nearly full: $1 MB are needed in $root, $free MB are free."
}

find_python() {
  local name
  for name in python3 python3.14 python3.13 python3.12 python3.11; do
    if command -v "$name" >/dev/null 2>&1 &&
      "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
      python=$name
      return
    fi
  done
  if command -v python3 >/dev/null 2>&1; then
    fail "Python 3.11 or newer is needed; this is $(python3 --version 2>&1). Install a newer one and try again."
  fi
  fail "Python 3.11 or newer is needed and none was found. Install it and try again."
}

find_node() {
  command -v node >/dev/null 2>&1 && command -v npm >/dev/null 2>&1 ||
    fail "Node 20.19 or newer with npm is needed and was not found. Install it and try again."
  node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' ||
    fail "Node 20.19 or newer is needed; this is $(node --version). Install a newer one and try again."
}

# fresh NAME HASH: whether the step NAME was last done from HASH
fresh() { [ -f "$stamps/$1" ] && [ "$(cat "$stamps/$1")" = "$2" ]; }
stamp() { mkdir -p "$stamps"; printf '%s' "$2" >"$stamps/$1"; }
hash_of() { (cd "$root" && find "$@" -type f -not -name '*.pyc' -print0 | LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1); }

# setup_python [dev]
setup_python() {
  local wanted=base files=(requirements/base.txt) made
  if [ "${1:-}" = dev ]; then wanted=dev files+=(requirements/dev.txt); fi
  made=$(hash_of "${files[@]}")
  fresh "python-$wanted" "$made" && return
  find_python
  need_space 2000
  if [ ! -x "$venv/bin/python" ]; then
    say "Making a virtual environment in .venv …"
    "$python" -m venv "$venv" || fail "The virtual environment could not be made. On Debian install python3-venv."
  fi
  say "Installing Python packages …"
  local arguments=() file
  for file in "${files[@]}"; do arguments+=(-r "$root/$file"); done
  # What is imported is compiled when it is: to do it here for everything takes longer than all the rest.
  "$venv/bin/python" -m pip install -qq --no-compile --disable-pip-version-check --require-hashes "${arguments[@]}" ||
    fail "The Python packages could not be installed; the reason is above."
  stamp "python-$wanted" "$made"
  # The packages for development hold the others.
  [ "$wanted" = base ] || stamp python-base "$(hash_of requirements/base.txt)"
}

setup_web() {
  local made
  made=$(hash_of web/package-lock.json)
  fresh npm "$made" && [ -d "$root/web/node_modules" ] && return
  find_node
  need_space 1000
  say "Installing the front end's packages …"
  (cd "$root/web" && npm ci --silent --no-audit --no-fund) ||
    fail "The front end's packages could not be installed; the reason is above."
  stamp npm "$made"
}

# The demo market is made rather than kept: the same file every time, and too large for the repository.
make_market() {
  local made
  made=$(hash_of demo/generate.py demo/harrowquay driftfield/exchange/cut.py requirements/base.txt)
  fresh market "$made" && [ -f "$root/demo/harrow-quay.zip" ] && return
  setup_python
  say "Making the demo market …"
  (cd "$root" && "$venv/bin/python" demo/generate.py >/dev/null) ||
    fail "The demo market could not be made; the reason is above."
  stamp market "$made"
}

build_web() {
  local made
  made=$(hash_of web/src web/public web/index.html web/vite.config.ts web/package-lock.json)
  fresh web "$made" && [ -f "$root/web/dist/index.html" ] && return
  setup_web
  say "Building the front end …"
  (cd "$root/web" && npx --no-install vite build --logLevel error) || fail "The front end could not be built; the reason is above."
  "$venv/bin/python" -m whitenoise.compress --quiet --no-brotli "$root/web/dist" || fail "The front end could not be compressed."
  stamp web "$made"
}
