// Whether what was said of a spot has the shapes that there are: every address of the origin that was asked, every value of a style one
// that this script writes into a style. Anything else is not drawn, and the plain link stays.
const COLOUR = /^#[0-9a-f]{6}$/i;
const LENGTH = /^\d{1,3}(\.\d{1,3})?(px|rem|em)?$/;
const NAMES = {
  shows: /^(button|card|form)$/,
  opens: /^(over|same|new)$/,
  width: /^(words|full)$/,
  align: /^(start|middle|end)$/,
  hover: /^(deeper|turned|lined|still)$/,
  letters: /^(page|plain)$/,
};

export function isWellSaid(said, origin) {
  const isHere = (address) => isText(address) && addressIn(address, origin);
  if (!isText(said.words) || !isHere(said.address) || !isNamed(said, "shows") || !isNamed(said, "opens")) return false;
  if (said.frame != null && !isHere(said.frame)) return false;
  if (!isFace(said.face)) return false;
  return said.shows !== "card" || isCard(said.card, isHere);
}

function isFace(face) {
  if (!isThing(face)) return false;
  const isColoured = COLOUR.test(face.ground) && COLOUR.test(face.ink) && COLOUR.test(face.deep);
  const isNamedRight = isNamed(face, "width") && isNamed(face, "align") && isNamed(face, "hover") && isNamed(face, "letters");
  return isColoured && isNamedRight && LENGTH.test(face.radius) && isMeasure(face.size) && isMeasure(face.above) && isMeasure(face.beside);
}

function isCard(card, isHere) {
  if (!isThing(card) || !isText(card.title) || !isText(card.price) || !isText(card.seller)) return false;
  if (!(COLOUR.test(card.sheet) && COLOUR.test(card.text) && COLOUR.test(card.soft) && COLOUR.test(card.rule))) return false;
  const { picture } = card;
  return picture == null || (isHere(picture.address) && isText(picture.words) && isSize(picture.wide) && isSize(picture.high));
}

function addressIn(address, origin) {
  try {
    return new URL(address).origin === origin; // "null" for every scheme that is not of the web
  } catch {
    return false;
  }
}

function isNamed(said, name) { return isText(said[name]) && NAMES[name].test(said[name]); }
function isText(value) { return typeof value === "string"; }
function isThing(value) { return typeof value === "object" && value !== null; }
function isMeasure(value) { return typeof value === "number" && value > 0 && value < 10; }
function isSize(value) { return Number.isInteger(value) && value > 0 && value < 100_000; }
