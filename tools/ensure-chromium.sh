#!/bin/sh
# The browser for the tests: Debian's Chromium, installed if it is missing and that is allowed.
set -u
for place in "${CHROMIUM:-}" /usr/bin/chromium /usr/bin/chromium-browser; do
  [ -n "$place" ] && [ -x "$place" ] && exit 0
done
install="apt-get update -qq && apt-get install -y -qq chromium"
if command -v apt-get >/dev/null 2>&1; then
  if [ "$(id -u)" = 0 ]; then sh -c "$install" >/dev/null && exit 0
  elif command -v sudo >/dev/null 2>&1 && sudo -n true 2>/dev/null; then sudo -n sh -c "$install" >/dev/null && exit 0
  fi
fi
echo "The browser tests need Chromium: install the package 'chromium' (on Debian: sudo apt-get install chromium), or set CHROMIUM to its path." >&2
exit 1
