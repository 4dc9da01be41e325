#!/bin/sh
# Set up what `make demo` and `make test` need: system libraries and a virtual environment with pinned packages.
# A second run finds a stamp that fits and ends at once.
set -eu
cd "$(dirname "$0")/.."
stamp=.venv/.ready
wanted=$(cat requirements.txt requirements-dev.txt pyproject.toml scripts/setup.sh | cksum)
if [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$wanted" ]; then exit 0; fi

packages="python3-venv libgl1 libegl1 libfontconfig1 libdbus-1-3 libglib2.0-0 libxkbcommon0 libxkbcommon-x11-0
 libxcb-cursor0 libxcb-icccm4 libxcb-keysyms1 libxcb-image0 libxcb-render-util0 libxcb-shape0 libxcb-randr0
 libxcb-xinerama0 libxcb-xkb1 xvfb"
if command -v dpkg-query >/dev/null 2>&1; then
  missing=""
  for name in $packages; do
    state=$(dpkg-query -W -f='${Status}' "$name" 2>/dev/null || true)
    case "$state" in *"ok installed"*) ;; *) missing="$missing $name" ;; esac
  done
  # A Python that brings its own venv module needs no package for it.
  if python3 -c 'import ensurepip, venv' 2>/dev/null; then missing=$(echo "$missing" | sed 's/ *python3-venv//'); fi
  if [ -n "$missing" ]; then
    as_root=""
    if [ "$(id -u)" != 0 ]; then
      if command -v sudo >/dev/null 2>&1 && sudo -n true 2>/dev/null; then as_root="sudo"; else as_root="no"; fi
    fi
    if [ "$as_root" = no ]; then
      echo "These system packages are missing and cannot be installed from here; ask an administrator for:$missing" >&2
    else
      echo "Installing system packages:$missing"
      $as_root apt-get update -qq || true
      DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends $missing >/dev/null ||
        echo "Some system packages could not be installed:$missing" >&2
    fi
  fi
fi

python=python3
command -v python3.11 >/dev/null 2>&1 && python=python3.11
echo "Setting up the virtual environment .venv"
[ -x .venv/bin/python ] || "$python" -m venv .venv
.venv/bin/python -m pip install -q --disable-pip-version-check -r requirements-dev.txt
.venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e .
echo "$wanted" > "$stamp"
