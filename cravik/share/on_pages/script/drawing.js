// The button and the card, as elements. Text is only ever text: nothing that is said becomes markup.
export function make(name, attributes, ...inside) {
  const element = document.createElement(name);
  for (const key of Object.keys(attributes)) element.setAttribute(key, attributes[key]);
  for (let at = 0; at < inside.length; at += 1) if (inside[at] != null) element.append(inside[at]);
  return element;
}

// Where a page that was open is gone, and with it what became of a press.
export const LOST = "The connection was lost. If you were paying and it went through, the receipt is in your e-mail: look there first. ";

// A link in every case, so that it can be opened in a tab of its own, and leads on whatever else fails.
export function buttonOf(said) {
  const attributes = { class: "button", href: said.address, part: "button", referrerpolicy: "strict-origin-when-cross-origin" };
  if (said.opens === "new") Object.assign(attributes, { target: "_blank", rel: "noopener" });
  if (said.frame) attributes["aria-haspopup"] = "dialog";
  return make("a", attributes, said.words);
}

export function cardOf(said, button) {
  const { title, price, seller, picture } = said.card;
  const image = picture && make("img", { src: picture.address, alt: picture.words, width: picture.wide, height: picture.high, loading: "lazy", decoding: "async" });
  const says = make("div", { class: "says" }, make("span", { class: "price" }, price), make("br", {}), seller);
  return make("div", { class: "card", part: "card" }, image, make("div", { class: "inside" }, make("div", { class: "title" }, title), says, button));
}
