// A handle while it is typed: how its address reads, and whether it is free.
document.addEventListener("alpine:init", () => {
  Alpine.data("checkHandle", () => ({
    shown: "", says: "", field: null, waiting: null, asked: 0,

    init() {
      this.field = this.$root.querySelector("[name=name]");
      this.shown = this.field.value;
      this.field.addEventListener("input", () => this.typed());
      this.$root.addEventListener("click", (event) => this.take(event.target.closest("[data-take]")));
    },

    take(button) {
      if (!button) return;
      this.field.value = button.dataset.take;
      this.field.focus();
      this.typed();
    },

    typed() {
      this.shown = this.field.value.trim().toLowerCase();
      clearTimeout(this.waiting);
      if (this.shown) this.waiting = setTimeout(() => this.check(), 250);
      else this.says = "";
    },

    async check() {
      const asked = ++this.asked;
      try {
        const response = await fetch(`${this.$root.dataset.check}?name=${encodeURIComponent(this.shown)}`);
        const answer = await response.json();
        if (asked !== this.asked) return;
        this.says = answer.free.length ? `${answer.says} Free: ${answer.free.join(", ")}.` : answer.says;
      } catch { /* it is judged when it is sent */ }
    },
  }));
});
