// The wording of a message: shown with sample values while it is typed; a placeholder goes where one is writing.
document.addEventListener("alpine:init", () => {
  Alpine.data("messageBench", () => ({
    form: null, sample: null, waiting: null, last: null,

    init() {
      this.form = this.$root.querySelector("#message-form");
      this.sample = this.$root.querySelector("[data-sample]");
      this.last = this.form.elements.body;
      this.form.addEventListener("focusin", (event) => { if (event.target.matches("input[type=text], textarea")) this.last = event.target; });
      this.form.addEventListener("input", () => this.typed());
      for (const button of this.$root.querySelectorAll("[data-insert]")) {
        button.addEventListener("click", () => this.insert(button.dataset.insert));
      }
      // What was typed before the script was there counts as well.
      if ([...this.form.elements].some((field) => field.value !== (field.defaultValue ?? field.value))) this.typed();
    },

    insert(placeholder) {
      this.last.focus();
      this.last.setRangeText(placeholder, this.last.selectionStart, this.last.selectionEnd, "end");
      this.last.dispatchEvent(new Event("input", { bubbles: true }));
    },

    typed() {
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => window.showSample(this.sample, new FormData(this.form)), 300);
    },
  }));
});
