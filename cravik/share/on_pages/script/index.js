// Makes the element known, once however often the script is pasted; each host that the page has it from is one to ask.
import { SpotElement } from "./element.js";

const script = document.currentScript?.src;
const known = customElements.get("cravik-spot");
if (known) known.from?.(script);
else {
  SpotElement.from(script);
  customElements.define("cravik-spot", SpotElement);
}
