// Keeps the page behind from scrolling, without a jump where its scrollbar was; what is returned lets go of it.
export function holdStill() {
  const { style, clientWidth } = document.documentElement;
  const bar = innerWidth - clientWidth;
  const restores = [set(style, "overflow", "hidden")];
  if (bar > 0) restores[1] = set(style, "padding-right", `${bar}px`);
  return () => { for (let at = 0; at < restores.length; at += 1) restores[at](); };
}

function set(style, name, value) {
  const [before, weight] = [style.getPropertyValue(name), style.getPropertyPriority(name)];
  style.setProperty(name, value, "important");
  return () => style.setProperty(name, before, weight);
}
