# Shared by the scripts: where things are, and getting what they need on a fresh Debian machine.
ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
VENV="${EVENQUILL_VENV:-$ROOT/.venv}"
cd "$ROOT"

# debian PACKAGE... : installs what is missing.
debian() {
  local missing=()
  for package in "$@"; do
    dpkg-query -W -f '${Status}' "$package" 2>/dev/null | grep -q "ok installed" || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return
  local sudo=""
  [ "$(id -u)" -eq 0 ] || sudo="sudo"
  $sudo apt-get -o DPkg::Lock::Timeout=300 update -qq
  DEBIAN_FRONTEND=noninteractive $sudo apt-get -o DPkg::Lock::Timeout=300 install -y -qq --no-install-recommends "${missing[@]}"
}

# What reading needs: languages, their word lists; and fonts to set pages in: those of tests and the demo, and open ones of the widths of
# typefaces that are often asked for.
reading_data() {
  local packages=(fonts-dejavu-core fonts-liberation2 fonts-crosextra-carlito fonts-crosextra-caladea)
  for language in eng deu fra spa ita por nld swe fin dan nor pol ces cat ron hun rus ukr ell osd; do
    packages+=("tesseract-ocr-$language")
  done
  for language in en-gb en-us de-de fr es it pt-pt nl sv da no pl cs ca ro hu ru uk el; do
    packages+=("hunspell-$language")
  done
  packages+=(libvoikko1 voikko-fi)
  debian "${packages[@]}"
}

# python LOCKFILE : a virtual environment with what the lock file names, and this project in it.
python_environment() {
  if [ ! -x "$VENV/bin/python" ]; then
    python3 -c 'import ensurepip' 2>/dev/null || debian python3 python3-venv
    python3 -m venv "$VENV"
  fi
  local stamp="$VENV/.installed"
  if ! { cat "$1" pyproject.toml | sha256sum | cmp -s - "$stamp"; }; then
    "$VENV/bin/pip" install -q -r "$1"
    "$VENV/bin/pip" install -q --no-deps -e .
    cat "$1" pyproject.toml | sha256sum > "$stamp"
  fi
  export PATH="$VENV/bin:$PATH"
}

# The built front end, made anew when its sources have changed.
front_end() {
  local stamp=evenquill/desk/static/.made-from
  local sources
  sources="$(find web -path web/node_modules -prune -o -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum)"
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$sources" ] && return
  (cd web && npm ci --silent && npm run --silent build)
  echo "$sources" > "$stamp"
}

demo_documents() {
  local stamp=evenquill/desk/demo_documents/.made-from
  local sources
  sources="$(cat demo/*.py demo/*.typ | sha256sum)"
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$sources" ] && return
  rm -rf evenquill/desk/demo_documents
  python demo/make.py > /dev/null
  echo "$sources" > "$stamp"
}
