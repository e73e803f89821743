# Sourced by scripts/start and scripts/test: makes .venv and sees to system packages.
# Leaves the shell in the project's folder.

cd "$(dirname "${BASH_SOURCE[0]}")/.."

NEEDED="libegl1 libgl1 libxkbcommon0 libdbus-1-3 libfontconfig1 libglib2.0-0 libpulse0
libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-render-util0 libxcb-shape0
libxcb-xkb1 libxkbcommon-x11-0 apertium-eng-spa apertium-es-pt hunspell-es
hunspell-pt-pt espeak-ng libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0 ${FOR_TESTS:-}"

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
    local python="${PYTHON:-python3}"
    "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null || {
        echo "Python 3.11 or newer is needed; set PYTHON to one, or: apt-get install python3 python3-venv"
        return 1
    }
    local stamp=".venv/prepared"
    if [ -x .venv/bin/python ] && [ -f "$stamp" ] &&
        [ "$stamp" -nt pyproject.toml ] && [ "$stamp" -nt constraints.txt ]; then
        return 0
    fi
    echo "Preparing .venv (some minutes the first time)"
    [ -x .venv/bin/python ] || "$python" -m venv .venv || {
        echo "The virtual environment could not be made: apt-get install python3-venv"
        return 1
    }
    .venv/bin/python -m pip install -q --disable-pip-version-check \
        -c constraints.txt -e '.[dev,models,cluster]' || {
        echo "The Python packages could not be installed; see above for the reason."
        return 1
    }
    # Other languages than English are heard with a model of 133 MB.
    if [ -z "${TAMARIND_ENGLISH_ONLY:-}" ]; then
        .venv/bin/python -m pip install -q --disable-pip-version-check \
            -c constraints.txt -e '.[languages]' ||
            echo "Languages other than English cannot be heard: their model could not be installed."
    fi
    # Between English and Portuguese, and on to other languages, a network of 35 MB translates.
    .venv/bin/python -m pip install -q --disable-pip-version-check \
        -c constraints.txt -e '.[translation]' ||
        echo "Translation goes by rules alone: its models could not be installed."
    # Foot pedals are read by a package that is built here, for which a compiler is needed.
    .venv/bin/python -m pip install -q --disable-pip-version-check \
        -c constraints.txt -e '.[pedal]' 2>/dev/null ||
        echo "Foot pedals cannot be used: the package evdev could not be built here."
    touch "$stamp"
}

system_packages
python_packages || exit 1
