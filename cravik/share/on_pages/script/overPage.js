// The buyer's page over the page: a dialog of the browser's own, which keeps focus inside, gives it back, and closes by Esc.
import { LOST, make } from "./drawing.js";
import { PageFrame } from "./frame.js";
import { holdStill } from "./holdStill.js";

// Milliseconds in which a second press belongs to the first, and after which a payment without an answer may be left.
const JUST_OPENED = 500;
const PATIENCE = 60_000;

export class OverPage {
  // `told` has what to do when it opened, when something was paid, and when it closed.
  constructor(root, said, told) {
    this.root = root;
    this.said = said;
    this.told = told;
  }

  open() {
    const { said } = this;
    this.waits = make("p", { class: "waits", role: "status" }, "Loading …");
    this.asks = make("div", { class: "asks", role: "alertdialog", "aria-label": "Close?", hidden: "" });
    const close = this.close = make("button", { class: "close", type: "button" }, "Close");
    this.dialog = make("dialog", { "aria-label": said.words }, make("div", { class: "bar" }, make("span", { class: "from" }, new URL(said.frame).host), close), this.asks, this.waits);
    this.frame = new PageFrame(said.frame, said.words, {
      grows: false,
      height: (height) => this.fit(height),
      paid: (order) => this.told.paid(order),
      leaves: () => this.leave(),
      silent: () => this.leadOn(),
    });
    this.dialog.append(this.frame.element);
    close.addEventListener("click", () => this.leave());
    this.dialog.addEventListener("click", (event) => { if (event.target === this.dialog) this.leave(); });
    this.dialog.addEventListener("cancel", (event) => { event.preventDefault(); this.leave(); }); // Esc
    this.dialog.addEventListener("close", () => this.end());
    this.root.append(this.dialog);
    this.dialog.style.setProperty("zoom", `${1 / zoomOf(this.root.host)}`); // a page that is zoomed would push Close out of sight
    this.letGo = holdStill();
    this.dialog.showModal();
    this.openSince = performance.now();
    this.told.opened();
  }

  // Closes, unless that would lose something: then it is asked once. The second press of a double click closes nothing.
  leave() {
    if (!this.dialog || performance.now() - this.openSince < JUST_OPENED) return;
    const { isTyped, paysSince } = this.frame;
    const pays = paysSince ? performance.now() - paysSince : 0;
    if (pays && pays < PATIENCE) this.ask("The payment is on its way. Wait for its answer: it takes a few seconds.", false);
    else if (pays) this.ask("There is no answer yet. If you close this now, look for the receipt in your e-mail before you pay again.", true);
    else if (isTyped && this.asks.hidden) this.ask("Close this and lose what you typed?", true);
    else this.dialog.close();
  }

  ask(words, mayClose) {
    const stay = make("button", { class: "stay", type: "button" }, "Keep typing");
    stay.addEventListener("click", () => { this.asks.hidden = true; this.frame.element.focus(); });
    const go = mayClose && make("button", { class: "go", type: "button" }, "Close");
    if (go) go.addEventListener("click", () => this.dialog.close());
    this.asks.replaceChildren(make("p", {}, words), make("div", {}, stay, go || null));
    this.asks.hidden = false;
    stay.focus();
  }

  // As high as the page, below the bar, as far as the window goes. What was asked of the page before is over.
  fit(height) {
    this.waits.hidden = true;
    if (this.asks.textContent && !this.frame.isTyped && !this.frame.paysSince) this.asks.hidden = true;
    this.dialog.style.setProperty("--high", `${height + 46}px`);
  }

  // What may not stand here, or was lost on the way, opens by itself: never a dead end.
  leadOn() {
    const whole = make("a", { class: "whole", href: this.said.address, target: "_blank", rel: "noopener" }, "Open it in a window of its own");
    this.waits.replaceChildren(this.waits.hidden ? LOST : "It can't be shown here. ", whole);
    this.waits.hidden = false;
    this.dialog.style.setProperty("--high", "11rem");
    this.frame.element.hidden = true;
    whole.focus();
  }

  end() {
    if (!this.dialog) return;
    const { dialog } = this;
    this.dialog = null;
    this.frame.end();
    this.letGo();
    if (dialog.open) dialog.close();
    dialog.remove();
    this.told.closed();
  }
}

// By how much the page shows the element larger or smaller than it is (CSS Viewport, `zoom`).
function zoomOf(element) {
  let zoom = 1;
  for (let at = element; at; at = at.parentElement ?? at.getRootNode().host) zoom *= parseFloat(getComputedStyle(at).zoom) || 1;
  return zoom;
}
