# Sourced by scripts/start and scripts/test: makes .venv and sees to system packages.
# Leaves the shell in the project's folder.

cd "$(dirname "${BASH_SOURCE[0]}")/.."

. scripts/needed.sh
NEEDED="$NEEDED ${FOR_TESTS:-}"

system_packages() {
    command -v dpkg-query >/dev/null || {
        echo "This is no Debian system: please see to it that Qt 6's libraries (EGL, GL, xkbcommon,"
        echo "xcb) are there, Apertium with English-Spanish and Spanish-Portuguese for translation, and"
        echo "eSpeak NG for word times."
        return 0
    }
    local missing=""
    for package in $NEEDED; do
        dpkg-query -W -f '${Status}' "$package" 2>/dev/null | grep -q "ok installed" ||
            missing="$missing $package"
    done
    [ -z "$missing" ] && return 0
    local become=""
    if [ "$(id -u)" -ne 0 ]; then
        if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
            become="sudo"
        elif command -v sudo >/dev/null && [ -t 0 ]; then
            become="sudo"
        else
            echo "Some system packages are missing. Ask an administrator to run:"
            echo "    apt-get install$missing"
            return 0
        fi
    fi
    echo "Installing system packages:$missing"
    $become apt-get update -qq &&
        $become env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends \
            $missing >/dev/null || {
        echo "They could not all be installed. Run by hand: apt-get install$missing"
        return 0
    }
}

python_packages() {
    local python="${PYTHON:-python3}" whose="person" extras=""
    "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null || {
        echo "Python 3.11 or newer is needed; set PYTHON to one, or: apt-get install python3 python3-venv"
        return 1
    }
    # A developer's environment has what a person's has, and tools.
    [ -n "${FOR_TESTS:-}" ] && whose="developer" extras="dev,models,cluster,"
    local stamp=".venv/prepared"
    if [ -x .venv/bin/python ] && [ "$stamp" -nt pyproject.toml ] && [ "$stamp" -nt constraints.txt ] &&
        grep -q -e developer -e "^$whose" "$stamp"; then
        return 0
    fi
    echo "Preparing .venv for a $whose (a minute or two the first time)"
    # A person's lacks parts of packages, which installing tools would not bring back.
    [ "$whose" = person ] || ! grep -q "^person" "$stamp" 2>/dev/null || rm -rf .venv
    [ -x .venv/bin/python ] || "$python" -m venv .venv || {
        echo "The virtual environment could not be made: apt-get install python3-venv"
        return 1
    }
    install() { .venv/bin/python -m pip install -q --disable-pip-version-check -c constraints.txt -e "$1"; }
    # Other languages than English are heard with a model of 133 MB; between English and Portuguese,
    # and on to other languages, a network of 35 MB translates. Without them the rest goes on.
    local heard="languages"
    [ -n "${TAMARIND_ENGLISH_ONLY:-}" ] && heard=""
    install ".[${extras}translation,$heard]" || {
        install ".[$extras]" || {
            echo "The Python packages could not be installed; see above for the reason."
            return 1
        }
        [ -z "$heard" ] || install ".[$heard]" ||
            echo "Languages other than English cannot be heard: their model could not be installed."
        install ".[translation]" ||
            echo "Translation goes by rules alone: its models could not be installed."
    }
    # Foot pedals are read by a package that is built here, for which a compiler is needed.
    install '.[pedal]' 2>/dev/null || echo "Foot pedals cannot be used: the package evdev could not be built here."
    # Developers drive windows, check types and hear samples, with parts that a person never needs.
    [ "$whose" = developer ] || .venv/bin/python scripts/slim.py || return 1
    echo "$whose" >"$stamp"
}

system_packages
python_packages || exit 1
