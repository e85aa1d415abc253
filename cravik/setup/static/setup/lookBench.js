// A look: colours by eye or by figures, checked while they are typed, and shown at once on the sample page.
document.addEventListener("alpine:init", () => {
  Alpine.data("lookBench", () => ({
    form: null, pairs: null, sample: null, waiting: null,

    init() {
      this.form = this.$root.querySelector("#look-form");
      this.pairs = this.$root.querySelector("[data-pairs]");
      this.sample = this.$root.querySelector("[data-sample]");
      this.form.addEventListener("input", (event) => this.typed(event.target));
      this.form.addEventListener("click", (event) => this.mend(event));
      // What was typed before the script was there counts as well.
      for (const field of this.form.elements) if (field.type === "text" && field.value !== field.defaultValue) this.typed(field);
    },

    typed(field) {
      const picks = field.dataset.picks;
      if (picks) this.form.elements[picks].value = field.value;
      else this.pickerOf(field.name, field.value);
      if (field.type === "file") return;
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.show(), 250);
    },

    pickerOf(name, value) {
      const picker = this.form.querySelector(`[data-picks="${name}"]`);
      if (picker && /^#[0-9a-f]{6}$/i.test(value)) picker.value = value;
    },

    // The nearest colour that passes, by one press; it is saved with the rest.
    mend(event) {
      const button = event.target.closest("[data-mend]");
      if (!button) return;
      event.preventDefault();
      const field = this.form.elements[button.value];
      field.value = button.dataset.mend;
      this.pickerOf(button.value, field.value);
      field.focus();
      field.dispatchEvent(new Event("input", { bubbles: true }));
    },

    sent() {
      const data = new FormData(this.form);
      data.delete("logo");
      data.delete("icon");
      return data;
    },

    async show() {
      window.showSample(this.sample, this.sent());
      try {
        const response = await fetch(this.form.dataset.check, { method: "POST", body: this.sent() });
        if (response.ok) this.pairs.innerHTML = await response.text();
      } catch { /* the pairs are checked again when it is saved */ }
    },
  }));
});
