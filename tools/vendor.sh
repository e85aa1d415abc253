#!/bin/sh
# Bring the pinned front-end packages into the tree: fonts, scripts, and our styles compiled.
set -eu
cd "$(dirname "$0")/.."
npm install --no-package-lock --ignore-scripts --no-fund --no-audit --silent
out=cravik/ui/static/ui
mkdir -p "$out/vendor" "$out/fonts" tests/browser/vendor
cp node_modules/@alpinejs/csp/dist/cdn.min.js "$out/vendor/alpine-csp.js"
cp node_modules/axe-core/axe.min.js tests/browser/vendor/axe.js
for part in latin latin-ext; do
  # Without hints for coarse screens, which headings are too large to need.
  .venv/bin/fonttools subset "node_modules/@fontsource/young-serif/files/young-serif-$part-400-normal.woff2" --unicodes="*" \
    --no-hinting --layout-features=kern,liga,calt,ccmp,mark,lnum,tnum --flavor=woff2 --output-file="$out/fonts/heading-$part.woff2"
  # Only the weights in use, which halves the file.
  .venv/bin/fonttools varLib.instancer --quiet --no-recalc-timestamp -o "$out/fonts/text-$part.woff2" \
    "node_modules/@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-$part-wght-normal.woff2" wght=400:700
done
mkdir -p docs/licences
cp node_modules/@fontsource/young-serif/LICENSE docs/licences/young-serif.txt
cp node_modules/@fontsource-variable/atkinson-hyperlegible-next/LICENSE docs/licences/atkinson-hyperlegible-next.txt
cp node_modules/bootstrap/LICENSE docs/licences/bootstrap.txt
cp node_modules/axe-core/LICENSE docs/licences/axe-core.txt
for sheet in seller buyer; do
  npx --no-install sass --no-source-map --style=compressed --quiet-deps --silence-deprecation=import,global-builtin,color-functions,if-function \
    --load-path=node_modules "cravik/ui/scss/$sheet.scss" "$out/$sheet.css"
done
ls -l "$out" "$out/fonts" "$out/vendor"
