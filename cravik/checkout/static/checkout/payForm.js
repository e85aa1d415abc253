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
      // A page that comes back from the browser's memory may be pressed again.
      window.addEventListener("pageshow", () => this.release());
    },

    began() {
      const note = new FormData();
      note.append("page", this.form.elements.page.value);
      navigator.sendBeacon("/for/visit/started/", note);
    },

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
