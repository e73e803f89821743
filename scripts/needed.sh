# The Debian packages that a person needs; sourced by prepare.sh and make_deb.
NEEDED="libegl1 libgl1 libxkbcommon0 libdbus-1-3 libfontconfig1 libglib2.0-0 libpulse0
libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-render-util0 libxcb-shape0
libxcb-xkb1 libxkbcommon-x11-0 libgssapi-krb5-2 libxrandr2 libxrender1 libwayland-cursor0
libwayland-egl1 apertium-eng-spa apertium-es-pt hunspell-es
hunspell-pt-pt espeak-ng libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0"
