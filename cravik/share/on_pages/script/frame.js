// A buyer's page in a frame, and the private line to it: each page that loads there is handed a port of its own, so messages from
// anybody else are not heard.
import { make } from "./drawing.js";

// Milliseconds that a page has, once it loaded, to say something. One that may not stand here never does.
const PATIENCE = 4000;

export class PageFrame {
  // `told` has what to do when the page tells its height, that something was paid, that it is left (if it can be), and when it stays
  // silent. Whether something was typed into it, and since when it pays, is known here.
  constructor(address, words, { grows, ...told }) {
    this.told = told;
    this.grows = grows;
    this.isTyped = false;
    this.paysSince = 0;
    this.origin = new URL(address).origin;
    this.element = make("iframe", { class: "frame", src: address, title: words, referrerpolicy: "strict-origin-when-cross-origin" });
    this.element.addEventListener("load", () => this.greet());
    this.refused = (event) => { if (isOfFrames(event) && `${event.blockedURI}`.startsWith(this.origin)) this.told.silent(); };
    document.addEventListener("securitypolicyviolation", this.refused);
  }

  greet() {
    const { port1, port2 } = new MessageChannel();
    this.port?.close();
    this.port = port1;
    this.isTyped = false;
    this.paysSince = 0;
    port1.onmessage = (event) => this.hear(event.data);
    clearTimeout(this.waiting);
    this.waiting = setTimeout(() => this.told.silent(), PATIENCE);
    this.element.contentWindow.postMessage({ cravik: 1, grows: this.grows }, this.origin, [port2]);
  }

  hear(said) {
    clearTimeout(this.waiting);
    if (typeof said?.height === "number" && said.height > 0 && said.height < 100_000) this.told.height(said.height);
    if (typeof said?.paid === "string" && said.paid !== this.paid) this.told.paid(this.paid = said.paid);
    if (said?.typed === true) this.isTyped = true;
    if (said?.pays === true) this.paysSince = performance.now();
    if (said?.leaves === true) this.told.leaves?.();
  }

  end() {
    clearTimeout(this.waiting);
    this.port?.close();
    document.removeEventListener("securitypolicyviolation", this.refused);
    this.element.remove();
  }
}

function isOfFrames(event) {
  const { effectiveDirective: directive } = event;
  return directive === "frame-src" || directive === "child-src" || directive === "default-src";
}
