#!/bin/sh
# Bring the pinned front-end packages into the tree: fonts, scripts, and our styles compiled.
set -eu
cd "$(dirname "$0")/.."
npm install --no-package-lock --ignore-scripts --no-fund --no-audit --silent
out=cravik/ui/static/ui
mkdir -p "$out/vendor" "$out/fonts" tests/browser/vendor
cp node_modules/@alpinejs/csp/dist/cdn.min.js "$out/vendor/alpine-csp.js"
cp node_modules/axe-core/axe.min.js tests/browser/vendor/axe.js
# Without hints for coarse screens, and without forms that no page asks for.
slim() { .venv/bin/fonttools subset "$1" --unicodes="$3" --no-hinting --layout-features=kern,liga,calt,ccmp,locl,mark,mkmk,lnum,tnum --flavor=woff2 --output-file="$2"; }
for part in latin latin-ext; do
  slim "node_modules/@fontsource/young-serif/files/young-serif-$part-400-normal.woff2" "$out/fonts/heading-$part.woff2" "*"
  # Only the weights in use.
  .venv/bin/fonttools varLib.instancer --quiet --no-recalc-timestamp -o "node_modules/text-$part.woff2" \
    "node_modules/@fontsource-variable/source-sans-3/files/source-sans-3-$part-wght-normal.woff2" wght=400:700
done
slim node_modules/text-latin.woff2 "$out/fonts/text-latin.woff2" "*"
# Figures and signs of currencies as headings have them.
.venv/bin/fonttools varLib.instancer --quiet --no-recalc-timestamp -o node_modules/figures.woff2 node_modules/text-latin.woff2 wght=700
slim node_modules/figures.woff2 "$out/fonts/figures.woff2" "U+0024,U+0030-0039,U+00A3,U+00A5,U+20AC,U+2212"
# The letters of European languages, and the signs of currencies.
slim node_modules/text-latin-ext.woff2 "$out/fonts/text-latin-ext.woff2" "U+0100-024F,U+02BC-02DC,U+1E80-1E9E,U+20A0-20C0"
mkdir -p docs/licences
cp node_modules/@fontsource/young-serif/LICENSE docs/licences/young-serif.txt
cp node_modules/@fontsource-variable/source-sans-3/LICENSE docs/licences/source-sans-3.txt
cp node_modules/bootstrap/LICENSE docs/licences/bootstrap.txt
cp node_modules/axe-core/LICENSE docs/licences/axe-core.txt
for sheet in seller buyer; do
  npx --no-install sass --no-source-map --style=compressed --quiet-deps --silence-deprecation=import,global-builtin,color-functions,if-function \
    --load-path=node_modules "cravik/ui/scss/$sheet.scss" "$out/$sheet.css"
done
# The faces for paper, as the typesetter reads them.
.venv/bin/python -m tools.paper_faces
# The script for pages of others, with the fingerprint of the modules that it is made of.
modules=cravik/share/on_pages
print=$(cat "$modules"/script/*.js | sha256sum | cut -c1-16)
npx --no-install esbuild "$modules/script/index.js" --bundle --minify --format=iife --target=es2020,safari16.4 --log-level=warning \
  "--banner:js=// Cravik, $print" "--outfile=$modules/built/onPage-1.js"
ls -l "$out" "$out/fonts" "$out/vendor"
