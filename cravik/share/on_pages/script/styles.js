// The styles inside the shadow root. As sheets made by script they need nothing of a page's policy for styles, and nothing of the
// page reaches them: even a rule for every element of the page gives way to what is important in here.
const PLACES = { start: "start", middle: "center", end: "end" };
const PLAIN = "system-ui,sans-serif";
const HOVERS = {
  deeper: "background:var(--deep)",
  turned: "background:var(--ink);color:var(--ground)",
  lined: "text-decoration:underline;text-underline-offset:.2em",
  still: "",
};

// A way to close, a frame as large as it can be, and the page behind out of sight on a phone.
const SHARED = `
  *{box-sizing:border-box}
  [hidden]{display:none!important}
  .button{display:inline-block;max-width:100%;margin:0;border:0;cursor:pointer;text-align:center;text-decoration:none;overflow-wrap:anywhere;
    background:var(--ground);color:var(--ink);border-radius:var(--radius);box-shadow:inset 0 0 0 2px var(--ground);line-height:1.25;font-weight:600;min-height:44px;min-width:44px}
  .button:focus-visible,.close:focus-visible,.whole:focus-visible{outline:3px solid #1c6b66;outline-offset:3px;box-shadow:0 0 0 3px #fff}
  .card{display:block;text-align:start;max-width:21rem;background:var(--sheet);color:var(--text);border:1px solid var(--rule);border-radius:min(var(--radius),14px);overflow:hidden}
  .card img{display:block;width:100%;height:auto;max-height:15rem;object-fit:cover;background:var(--rule)}
  .inside{padding:1rem 1.1rem 1.1rem}
  .title{font-size:19px;line-height:1.25;font-weight:700;overflow-wrap:anywhere}
  .says{margin:.3em 0 1em;color:var(--soft);line-height:1.4}
  .price{color:var(--text);font-weight:600;font-variant-numeric:tabular-nums lining-nums}
  .card .button{display:block;width:100%}
  dialog{border:0;padding:0;margin:auto;width:min(62rem,100vw - 3rem);max-width:none;max-height:none;height:min(var(--high,30rem),100vh - 3rem);background:#fffdf9;color:#22302e;border-radius:4px;overflow:hidden;flex-direction:column}
  dialog[open]{display:flex}
  dialog::backdrop{background:rgba(34,48,46,.62)}
  .bar{display:flex;justify-content:space-between;align-items:center;flex:none;border-bottom:1px solid #ddd3c2}
  .from{padding-inline-start:1.1rem;color:#55615c;font-size:15px;overflow:hidden;text-overflow:ellipsis;white-space:nowrap}
  .close{font:600 16px/1 system-ui,sans-serif;color:#22302e;background:none;border:0;cursor:pointer;min-height:44px;padding:0 1.1rem}
  .close:hover{text-decoration:underline}
  .close:focus-visible{outline-offset:-4px;box-shadow:none}
  .frame{display:block;border:0;width:100%;flex:1 1 auto;min-height:0;background:transparent;color-scheme:normal}
  .waits:empty{display:none}
  .waits{margin:0;padding:1.25rem 1.1rem;font:16px/1.5 system-ui,sans-serif}
  .whole{color:#1c6b66}
  .asks{flex:none;padding:.9rem 1.1rem;background:#fbf7f0;border-bottom:1px solid #ddd3c2;font:16px/1.45 system-ui,sans-serif}
  .asks p{margin:0 0 .6rem}
  .asks div{display:flex;flex-wrap:wrap;gap:.6rem}
  .asks button{font:600 16px/1 system-ui,sans-serif;min-height:44px;padding:0 1.1rem;border:1px solid #22302e;border-radius:3px;background:#fffdf9;color:#22302e;cursor:pointer}
  .asks .stay{background:#22302e;color:#fffdf9}
  .asks button:focus-visible{outline:3px solid #1c6b66;outline-offset:2px}
  .place{display:block;width:100%}
  .place .frame{height:var(--high,30rem)}
  @media (max-width:40rem){dialog{width:100vw;height:100vh;height:100dvh;border-radius:0}}
  @media (forced-colors:active){.button{border:2px solid ButtonText}}`;

let shared = null;

// The sheets of one face: what all have, made once, and its own. Every value is one of ours or was made by the server.
export function sheetsFor(said) {
  shared ??= sheetOf(SHARED);
  return [shared, sheetOf(faceOf(said))];
}

function sheetOf(css) {
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(css);
  return sheet;
}

function faceOf(said) {
  const { face, card = {} } = said;
  const place = PLACES[face.align] ?? "start";
  const isWide = said.shows === "form" || face.width === "full";
  const auto = place === "center" ? "auto" : place === "end" ? "auto 0" : "0 auto";
  return `
    :host{all:initial!important;display:${isWide || said.shows === "card" || place !== "start" ? "block" : "inline-block"}!important;max-width:100%!important;
      text-align:${place}!important;font:16px/1.4 ${PLAIN}!important;font-family:${face.letters === "page" ? "inherit" : PLAIN}!important}
    :host{--ground:${face.ground};--ink:${face.ink};--deep:${face.deep};--radius:${face.radius};--sheet:${card.sheet};--text:${card.text};--soft:${card.soft};--rule:${card.rule}}
    .button{font-size:${face.size * 16}px;padding:${face.above}em ${face.beside}em;${isWide ? "display:block;width:100%" : ""}}
    .card{margin-inline:${auto}}
    @media (hover:hover){.button:hover{${HOVERS[face.hover] ?? ""}}}`;
}
