// The design of a code or a button: colours by eye or by figures, drawn and tried anew while it is typed.
document.addEventListener("alpine:init", () => {
  Alpine.data("designBench", () => ({
    form: null, view: null, waiting: null, asked: 0, isNewPicture: false,

    init() {
      this.form = this.$root.querySelector("[data-shown]");
      this.view = this.$root.querySelector("[data-view]");
      this.form.addEventListener("input", (event) => this.typed(event.target));
      this.showMiddle();
    },

    typed(field) {
      const picks = field.dataset.picks;
      if (picks) this.form.elements[picks].value = field.value;
      else this.pickerOf(field.name, field.value);
      if (field.name === "middle") this.showMiddle();
      if (field.type === "file") this.isNewPicture = true;
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.show(), 300);
    },

    pickerOf(name, value) {
      const picker = this.form.querySelector(`[data-picks="${name}"]`);
      if (picker && /^#[0-9a-f]{6}$/i.test(value)) picker.value = value;
    },

    // Only the field that the chosen middle needs is seen.
    showMiddle() {
      for (const part of this.form.querySelectorAll("[data-middle]")) part.hidden = part.dataset.middle !== this.form.elements.middle.value;
    },

    // A picture is sent until an answer carries what was kept of it; from then on the page does.
    async show() {
      const data = new FormData(this.form), asked = ++this.asked;
      const sendsPicture = this.isNewPicture;
      if (!sendsPicture) data.delete("picture");
      try {
        const response = await fetch(this.form.dataset.shown, { method: "POST", body: data });
        const text = await response.text();
        if (!response.ok || asked !== this.asked) return;
        this.view.innerHTML = text;
        if (sendsPicture) this.isNewPicture = false;
      } catch { /* it is tried again when it is saved */ }
    },
  }));
});
