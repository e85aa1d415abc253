// <cravik-spot at="…">: shows the button, card or form of a spot. What stands inside it, a plain link, is seen until there is an
// answer, and stays where there is none.
import { addressOf, saidOf, trust } from "./asking.js";
import { LOST, buttonOf, cardOf, make } from "./drawing.js";
import { PageFrame } from "./frame.js";
import { OverPage } from "./overPage.js";
import { sheetsFor } from "./styles.js";

export class SpotElement extends HTMLElement {
  static observedAttributes = ["at"];

  // The page has the script from there too: what stands there already may have waited for it.
  static from(script) {
    if (!script) return;
    trust(script);
    const waiting = document.querySelectorAll("cravik-spot:not([shown])");
    for (let at = 0; at < waiting.length; at += 1) if (waiting[at] instanceof SpotElement) waiting[at].show();
  }

  connectedCallback() { this.show(); }
  attributeChangedCallback(_, before, now) { if (before !== now && this.isConnected) this.show(); }
  disconnectedCallback() { this.clear(); }

  async show() {
    this.clear();
    const address = addressOf(this.getAttribute("at") ?? "");
    const showing = this.showing = {};
    if (!address) {
      console.warn("cravik-spot: the plain link stays; it takes the address of a spot at the host that the script is from.");
      return;
    }
    try {
      const said = await saidOf(address);
      if (this.showing === showing && this.isConnected) this.draw(said);
    } catch (trouble) {
      this.clear();
      console.warn("cravik-spot: the plain link stays.", trouble);
    }
  }

  draw(said) {
    const root = this.shadowRoot ?? this.attachShadow({ mode: "open" });
    root.adoptedStyleSheets = sheetsFor(said);
    if (said.shows === "form" && said.frame) root.replaceChildren(this.formOf(said));
    else root.replaceChildren(this.pressable(said));
    this.setAttribute("shown", said.shows);
  }

  pressable(said) {
    const button = buttonOf(said);
    if (said.frame) button.addEventListener("click", (event) => this.press(event, said));
    return said.shows === "card" ? cardOf(said, button) : button;
  }

  press(event, said) {
    if (event.button || event.metaKey || event.ctrlKey || event.shiftKey || event.altKey) return;
    event.preventDefault();
    if (this.over) return;
    let order = "";
    try {
      this.over = new OverPage(this.shadowRoot, said, {
        opened: () => this.tell("opened"),
        paid: (paid) => this.tell("paid", { order: order = paid }),
        closed: () => { this.over = null; this.tell("closed", order ? { order } : {}); },
      });
      this.over.open();
    } catch {
      location.assign(said.address); // a page that broke what a dialog needs
    }
  }

  formOf(said) {
    const place = make("div", { class: "place" });
    this.frame = new PageFrame(said.frame, said.words, {
      grows: true,
      height: (height) => { if (!this.isOpen) this.tell("opened"); this.isOpen = true; place.style.setProperty("--high", `${height}px`); },
      paid: (order) => this.tell("paid", { order }),
      silent: () => this.leadOn(said),
    });
    this.frame.element.setAttribute("loading", "lazy"); // a visit begins when it is seen
    // What comes after a press is seen from its beginning.
    this.frame.element.addEventListener("load", () => { if (this.isOpen && place.getBoundingClientRect().top < 0) place.scrollIntoView(); });
    place.append(this.frame.element);
    return place;
  }

  // A form that cannot be shown here is a button.
  leadOn(said) {
    this.frame.end();
    const note = make("p", { class: "waits", role: "status" }, this.isOpen ? LOST : "");
    this.shadowRoot.replaceChildren(note, buttonOf({ ...said, frame: null }));
  }

  // What happened, for the page around: `cravik:opened`, `cravik:paid` and `cravik:closed`.
  tell(what, detail = {}) {
    const from = this.isConnected ? this : document; // it may have been taken away meanwhile
    from.dispatchEvent(new CustomEvent(`cravik:${what}`, { bubbles: true, composed: true, detail: { at: this.getAttribute("at"), ...detail } }));
  }

  clear() {
    this.showing = null;
    this.over?.end();
    this.frame?.end();
    this.frame = null;
    this.isOpen = false;
    this.removeAttribute("shown");
    if (!this.shadowRoot) return;
    this.shadowRoot.adoptedStyleSheets = [];
    this.shadowRoot.replaceChildren(make("slot", {}));
  }
}
