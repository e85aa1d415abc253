// Makes the element known, once however often the script is pasted.
import { SpotElement } from "./element.js";

if (!customElements.get("cravik-spot")) customElements.define("cravik-spot", SpotElement);
