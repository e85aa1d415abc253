// The buyer's page over the page: a dialog of the browser's own, which keeps focus inside, gives it back, and closes by Esc.
import { LOST, make } from "./drawing.js";
import { PageFrame } from "./frame.js";
import { holdStill } from "./holdStill.js";

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
    const close = make("button", { class: "close", type: "button" }, "Close");
    this.dialog = make("dialog", { "aria-label": said.words }, make("div", { class: "bar" }, make("span", { class: "from" }, new URL(said.frame).host), close), this.waits);
    this.frame = new PageFrame(said.frame, said.words, {
      grows: false,
      height: (height) => this.fit(height),
      paid: (reference) => this.told.paid(reference),
      leaves: () => this.dialog.close(),
      silent: () => this.leadOn(),
    });
    this.dialog.append(this.frame.element);
    close.addEventListener("click", () => this.dialog.close());
    this.dialog.addEventListener("click", (event) => { if (event.target === this.dialog) this.dialog.close(); });
    this.dialog.addEventListener("close", () => this.end());
    this.root.append(this.dialog);
    this.letGo = holdStill();
    this.dialog.showModal();
    this.told.opened();
  }

  // As high as the page, below the bar, as far as the window goes.
  fit(height) {
    this.waits.hidden = true;
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
