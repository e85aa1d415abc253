// The buyer's page: notes that somebody began, and lets the button be pressed once.
document.addEventListener("alpine:init", () => {
  Alpine.data("payForm", () => ({
    init() {
      this.form = this.$root.querySelector("[data-pay]");
      this.button = this.$root.querySelector("[data-pay-button]");
      this.words = this.$root.querySelector("[data-pay-words]");
      this.asked = this.words.textContent;
      this.form.addEventListener("input", () => this.began(), { once: true });
      this.form.addEventListener("submit", (event) => this.press(event));
      this.form.elements.card_number.addEventListener("blur", (event) => this.space(event.target));
      this.form.addEventListener("change", (event) => { if (this.decides(event.target.name)) this.reckon(); });
      // A page that comes back from the browser's memory may be pressed again.
      window.addEventListener("pageshow", () => this.release());
    },

    began() {
      const note = new FormData();
      note.append("page", this.form.elements.page.value);
      navigator.sendBeacon("/for/visit/started/", note);
    },

    // The fields that the price hangs on.
    decides(name) { return ["country", "region", "tax_number"].includes(name) || name.startsWith("option-"); },

    // What it costs otherwise is reckoned by the server. The button waits for it.
    async reckon() {
      this.button.setAttribute("aria-disabled", "true");
      const sent = new FormData();
      for (const [name, value] of new FormData(this.form)) if (name === "page" || this.decides(name)) sent.append(name, value);
      const asked = this.asking = Symbol("the last one counts");
      try {
        const response = await fetch("/for/visit/slip/", { method: "POST", body: sent });
        if (!response.ok) throw new Error("no answer of ours");
        const answer = await response.json();
        if (this.asking !== asked) return;
        for (const part of this.$root.querySelectorAll("[data-part]")) {
          part.replaceChildren(...this.parsed(answer[part.dataset.part]));
        }
        this.$root.querySelector("[data-region]")?.replaceChildren(...this.parsed(answer.region));
        this.form.querySelector("[data-seen]").value = answer.seen_total;
        this.asked = this.words.textContent;
      } catch {
        // The server reckons again when the button is pressed, and shows a changed sum first.
      }
      if (this.asking === asked) this.button.removeAttribute("aria-disabled");
    },

    parsed(html) { return new DOMParser().parseFromString(html, "text/html").body.childNodes; },

    press(event) {
      if (this.button.getAttribute("aria-disabled") === "true") {
        event.preventDefault();
        return;
      }
      this.button.setAttribute("aria-disabled", "true");
      this.words.textContent = "Paying …";
    },

    release() {
      this.button.removeAttribute("aria-disabled");
      this.words.textContent = this.asked;
    },

    space(field) {
      const digits = field.value.replace(/[\s-]/g, "");
      if (/^\d{12,19}$/.test(digits)) field.value = digits.replace(/(\d{4})(?=\d)/g, "$1 ");
    },
  }));
});
