# Sourced by ./run and ./test: a virtual environment beside the checkout, pinned packages, system libraries.

here="$PWD"
venv="${LEANSTEP_VENV:-$(dirname "$here")/.$(basename "$here")-venv}"

libraries="libegl1 libgl1 libxkbcommon0 libxkbcommon-x11-0 libdbus-1-3 libfontconfig1 libglib2.0-0 libxcb-cursor0
libxcb-icccm4 libxcb-keysyms1 libxcb-shape0 libxcb-xkb1 libxcb-image0 libxcb-render-util0 libxcb-randr0
libxcb-xinerama0 libxcb-sync1 libxcb-xfixes0 xvfb"

say() { printf '%s\n' "$*" >&2; }

install_libraries() {
  command -v dpkg-query >/dev/null 2>&1 || { say "Qt needs its system libraries; install the ones your system lacks."; return 0; }
  missing=""
  for name in $libraries; do
    dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q 'install ok installed' || missing="$missing $name"
  done
  install_packages "Qt needs system libraries that are not installed." $missing
}

# What only the tests need: compilers, node and Lua, with which the players for games are held against golden traces.
install_tools() {
  missing=""
  command -v cc >/dev/null 2>&1 || missing="$missing gcc libc6-dev"
  command -v node >/dev/null 2>&1 || command -v nodejs >/dev/null 2>&1 || missing="$missing nodejs"
  command -v npm >/dev/null 2>&1 || missing="$missing npm"
  command -v c++ >/dev/null 2>&1 || missing="$missing g++"
  command -v lua5.4 >/dev/null 2>&1 || missing="$missing lua5.4"
  install_packages "Some tests need programs that are not installed; without them they are left out." $missing
}

# Programs from the npm registry that read our documents in tests.
install_readers() {
  readers="$venv/readers"
  cmp -s tests/support/readers/package.json "$readers/package.json" && return 0
  command -v npm >/dev/null 2>&1 || return 0
  say "Installing what reads documents in tests"
  rm -rf "$readers"
  mkdir -p "$readers"
  cp tests/support/readers/package.json "$readers/"
  # a registry that cannot be reached is waited for, by default, for a quarter of an hour
  timeout 120 npm install --prefix "$readers" --no-audit --no-fund --no-package-lock --loglevel=error \
    --fetch-timeout=30000 --fetch-retries=1 >/dev/null 2>&1 || {
    rm -rf "$readers"
    say "They could not be installed; tests that need them are left out."
  }
}

install_packages() {
  reason="$1"
  shift
  [ "$#" -eq 0 ] && return 0
  as_root=""
  if [ "$(id -u)" -ne 0 ]; then
    if sudo -n true 2>/dev/null; then
      as_root="sudo -n"
    else
      say "$reason Type:"
      say "  sudo apt-get install $*"
      return 0
    fi
  fi
  command -v apt-get >/dev/null 2>&1 || { say "$reason Install: $*"; return 0; }
  say "Installing: $*"
  $as_root apt-get update -qq >/dev/null 2>&1 || true
  DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends "$@" >/dev/null 2>&1 ||
    say "They could not be installed. Type:  sudo apt-get install $*"
}

find_python() {
  for name in python3.11 python3.12 python3.13 python3; do
    if command -v "$name" >/dev/null 2>&1 && "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
      printf '%s' "$name"
      return 0
    fi
  done
  say "Lean Step needs Python 3.11 or newer. Type:  sudo apt-get install python3 python3-venv"
  exit 1
}

compile_engines() {
  compiled="$venv/.compiled-$(find src/leanstep/core -name '*.py' | LC_ALL=C sort | xargs cat | cksum | tr ' ' '-')"
  [ -f "$compiled" ] && return 0
  say "Compiling the engines"
  "$venv/bin/python" -E -P -m leanstep.warm >&2 || exit 1
  rm -f "$venv"/.compiled-*
  : >"$compiled"
}

prepare() {
  stamp="$venv/.leanstep-$(cat pyproject.toml constraints.txt setup.sh | cksum | tr ' ' '-')"
  if [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$here" ]; then
    return 0
  fi
  install_libraries
  python="$(find_python)"
  if [ ! -x "$venv/bin/python" ]; then
    say "Making a virtual environment in $venv"
    "$python" -m venv "$venv" || {
      rm -rf "$venv"
      if [ "$(id -u)" -eq 0 ] && command -v apt-get >/dev/null 2>&1; then
        apt-get update -qq >/dev/null 2>&1 || true
        apt-get install -y -qq python3-venv >/dev/null 2>&1 || true
      fi
      "$python" -m venv "$venv" || { say "That failed. Type:  sudo apt-get install python3-venv"; exit 1; }
    }
  fi
  say "Installing packages"
  PIP_CONSTRAINT="$here/constraints.txt" "$venv/bin/python" -m pip install -q --disable-pip-version-check -e '.[test]' >&2 || {
    say "The packages could not be installed; the reason stands above. Check the network and try again."
    exit 1
  }
  rm -f "$venv"/.leanstep-* "$venv"/.compiled-*
  printf '%s' "$here" >"$stamp"
}
