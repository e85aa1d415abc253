#!/bin/sh
# What the tests need of Debian, installed if it is missing and that is allowed: Chromium (its headless shell is a third quicker) to drive the pages in,
# Ghostscript, which reads the EPS files that were written, and a second reader of QR codes; for `proofs` a proxy too.
set -u
missing=""
found=""
for place in "${CHROMIUM:-}" /usr/bin/chromium-headless-shell /usr/bin/chromium; do
  [ -n "$place" ] && [ -x "$place" ] && found=yes
done
[ -n "$found" ] || missing="chromium-headless-shell"
command -v gs >/dev/null 2>&1 || missing="$missing ghostscript"
ls /usr/lib/*/libzbar.so.0 /usr/lib/libzbar.so.0 2>/dev/null | grep -q . || missing="$missing libzbar0"
# The long proofs put a proxy in front of it.
[ "${1:-}" = proofs ] && for tool in nginx openssl age; do command -v "$tool" >/dev/null 2>&1 || [ -x "/usr/sbin/$tool" ] || missing="$missing $tool"; done
[ -z "$missing" ] && exit 0
install="apt-get update -qq && apt-get install -y -qq $missing"
if command -v apt-get >/dev/null 2>&1; then
  if [ "$(id -u)" = 0 ]; then sh -c "$install" >/dev/null && exit 0
  elif command -v sudo >/dev/null 2>&1 && sudo -n true 2>/dev/null; then sudo -n sh -c "$install" >/dev/null && exit 0
  fi
fi
echo "The tests need these packages: $missing (on Debian: sudo apt-get install $missing). Chromium's path may also be set by CHROMIUM." >&2
exit 1
