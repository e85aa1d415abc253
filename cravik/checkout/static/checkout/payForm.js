// The buyer's page: notes that somebody began, asks what a choice costs, and lets the button be pressed once.
// Plain script: the page is the first that a buyer sees of a seller, and needs no framework.
(() => {
  class PayForm {
    constructor(root) {
      this.root = root;
      this.form = this.root.querySelector("[data-pay]");
      this.button = this.root.querySelector("[data-pay-button]");
      this.words = this.root.querySelector("[data-pay-words]");
      this.lost = this.root.querySelector("[data-lost]");
      this.shown = new WeakMap();
      this.asked = this.words.textContent;
      this.form.addEventListener("input", () => this.began(), { once: true });
      this.form.addEventListener("submit", (event) => this.press(event));
      this.form.addEventListener("change", (event) => { if (this.decides(event.target)) this.workOut(); });
      this.form.addEventListener("click", (event) => this.choose(event.target.closest("[data-by], [data-fill]")));
      this.form.addEventListener("keydown", (event) => this.step(event));
      // Which fields were touched, the last of them last: it is told when the page is left, by their names alone.
      this.touched = new Set();
      for (const kind of ["focusin", "input"]) this.form.addEventListener(kind, (event) => this.touch(event.target.name));
      document.addEventListener("visibilitychange", () => { if (document.visibilityState === "hidden") this.tellTouched(); });
      addEventListener("pagehide", () => this.tellTouched());
      for (const field of this.form.querySelectorAll("[data-in-fours]")) {
        field.addEventListener("blur", () => this.space(field));
      }
      // A page that comes back from the browser's memory may be pressed again. One that has just loaded keeps what was typed meanwhile.
      window.addEventListener("pageshow", (event) => { if (event.persisted) this.release(); });
      this.settle();
    }

    // What has to be said is in sight; going back to a page that came from a press sends nothing again.
    settle() {
      this.root.querySelector("[data-notices]")?.focus();
      const page = location.pathname.replace(/pay\/$/, "");
      if (page !== location.pathname) history.replaceState(null, "", page + location.search);
    }

    began() {
      const note = new FormData();
      note.append("page", this.form.elements.page.value);
      navigator.sendBeacon(this.root.dataset.started, note);
    }

    touch(name) {
      if (!name) return;
      this.touched.delete(name);
      this.touched.add(name);
    }

    tellTouched() {
      const names = [...this.touched];
      if (!names.length || String(names) === this.told) return;
      this.told = String(names);
      const note = new FormData();
      note.append("page", this.form.elements.page.value);
      for (const name of names) note.append("touched", name);
      navigator.sendBeacon(this.root.dataset.fields, note);
    }

    // One more, one fewer, or an amount that is suggested.
    choose(button) {
      if (!button) return;
      if (button.dataset.fill) this.put(document.getElementById(button.dataset.fill), button.value);
      else this.count(button.parentElement.querySelector("input"), Number(button.dataset.by));
    }

    step(event) {
      const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
      if (!by || !event.target.matches("[data-stepper] input")) return;
      event.preventDefault();
      this.count(event.target, by);
    }

    count(field, by) {
      const { least, most } = field.dataset;
      const now = Number(field.value.trim());
      if (!Number.isInteger(now)) return;
      this.put(field, String(Math.min(Math.max(now + by, Number(least)), Number(most ?? Infinity))));
    }

    put(field, value) {
      if (field.value === value) return;
      field.value = value;
      for (const kind of ["input", "change"]) field.dispatchEvent(new Event(kind, { bubbles: true }));
    }

    // Whether the price hangs on the field.
    decides(field) { return Boolean(field.closest("[data-decides]")); }

    // What it costs is worked out by the server. The button waits for it.
    async workOut() {
      this.button.setAttribute("aria-disabled", "true");
      const sent = new FormData();
      const whole = new FormData(this.form);
      sent.append("page", whole.get("page"));
      for (const field of this.form.elements) {
        if (field.name && !sent.has(field.name) && this.decides(field)) {
          for (const value of whole.getAll(field.name)) sent.append(field.name, value);
        }
      }
      const asked = this.asking = Symbol("the last one counts");
      try {
        const response = await fetch(this.root.dataset.slip, { method: "POST", body: sent });
        if (!response.ok) throw new Error("no answer of ours");
        const answer = await response.json();
        if (this.asking !== asked) return;
        for (const piece of this.root.querySelectorAll("[data-piece]")) {
          const html = answer.pieces[piece.dataset.piece] ?? "";
          if (this.shown.get(piece) !== html) piece.replaceChildren(...this.parsed(html)); // what stays is not told anew
          this.shown.set(piece, html);
        }
        for (const seen of this.form.querySelectorAll("[data-seen]")) seen.value = answer[seen.name];
        this.showErrors(answer.errors);
        for (const group of this.form.querySelectorAll("[data-when-due]")) group.hidden = group.disabled = answer.free;
        this.asked = this.words.textContent;
        this.lost.hidden = true;
      } catch {
        this.lost.hidden = this.asking !== asked;
        // The server works it out again when the button is pressed, and shows a changed sum first.
      }
      if (this.asking !== asked) return;
      this.button.removeAttribute("aria-disabled");
      // Pressed meanwhile: it counts if the button still says the same.
      const wanted = this.wanted;
      this.wanted = null;
      if (wanted && wanted === this.words.textContent) this.form.requestSubmit(this.button);
    }

    parsed(html) { return new DOMParser().parseFromString(html, "text/html").body.childNodes; }

    showErrors(errors) {
      for (const place of this.form.querySelectorAll("[data-decides] [data-error-for]")) {
        place.textContent = errors[place.dataset.errorFor] || "";
        place.hidden = !place.textContent;
      }
    }

    press(event) {
      if (this.button.getAttribute("aria-disabled") === "true") {
        event.preventDefault();
        this.wanted = this.words.textContent;
        return;
      }
      this.button.setAttribute("aria-disabled", "true");
      this.words.textContent = "Paying …";
    }

    release() {
      this.button.removeAttribute("aria-disabled");
      this.words.textContent = this.asked;
      const code = this.form.elements.security_code;
      if (code) code.value = "";
    }

    space(field) {
      const digits = field.value.replace(/[\s-]/g, "");
      if (/^\d{12,19}$/.test(digits)) field.value = digits.replace(/(\d{4})(?=\d)/g, "$1 ");
    }
  }

  for (const root of document.querySelectorAll("[data-pay-form]")) new PayForm(root);
})();
