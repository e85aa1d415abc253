// What a refund comes to, while it is being said: the server works it out, and the button has the sum.
document.addEventListener("alpine:init", () => {
  Alpine.data("refundSum", () => ({
    waiting: null, asking: null,

    init() { this.ask(); },

    // Whoever types pieces or an amount means it.
    typed(event) {
      const group = event.target.closest("[data-of]");
      if (group && event.target.type !== "radio" && event.target.value) this.$root.querySelector(`[name=how][value=${group.dataset.of}]`).checked = true;
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.ask(), 150);
    },

    async ask() {
      const asked = this.asking = Symbol("the last one counts");
      try {
        const response = await fetch(this.$root.dataset.sum, { method: "POST", body: new URLSearchParams(new FormData(this.$root)) });
        if (this.asking !== asked) return;
        const { html = "", button = "Refund", agreed = "" } = await response.json();
        this.$refs.sum.replaceChildren(...new DOMParser().parseFromString(html, "text/html").body.childNodes);
        this.$refs.button.textContent = button;
        this.$root.elements.agreed.value = agreed;
      } catch { /* the press asks the server anyhow */ }
    },
  }));
});
