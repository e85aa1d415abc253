// A change that is said at the head of the bench: shown while it is typed, done by Enter or its button.
document.addEventListener("alpine:init", () => {
  Alpine.data("sayChange", () => ({
    form: null, field: null, shown: null, waiting: null, asking: null,

    init() {
      this.form = this.$root.querySelector("[data-say-change]");
      this.field = this.form.elements.change_said;
      this.shown = this.$root.querySelector("[data-said-change]");
      this.field.addEventListener("input", () => { clearTimeout(this.waiting); this.waiting = setTimeout(() => this.ask(), 200); });
      this.form.addEventListener("submit", (event) => { event.preventDefault(); this.press(); });
      this.shown.addEventListener("click", (event) => this.answer(event));
      this.shown.addEventListener("submit", (event) => this.freshen(event.target));
      document.addEventListener("keydown", (event) => {
        if (event.key !== "c" || event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input, textarea, select, [contenteditable]")) return;
        event.preventDefault();
        this.field.focus();
      });
      for (const example of this.$root.querySelectorAll("[data-example]")) {
        example.addEventListener("click", () => { this.field.value = example.textContent; this.field.focus(); this.ask(); });
      }
    },

    // Enter does what is shown; before it is shown, it is asked for.
    async press() {
      clearTimeout(this.waiting);
      await this.ask();
      const form = this.shown.querySelector("[data-do]");
      if (form) form.requestSubmit();
    },

    async ask() {
      const asked = this.asking = Symbol("the last one counts");
      try {
        const response = await fetch(this.form.action, { method: "POST", headers: { Accept: "application/json" }, body: new URLSearchParams(new FormData(this.form)) });
        if (!response.ok) throw new Error("no answer of ours");
        const { html } = await response.json();
        if (this.asking !== asked) return;
        const page = new DOMParser().parseFromString(html, "text/html").body;
        this.shown.replaceChildren(...page.childNodes);
      } catch { /* typed on: it is asked again, and Enter asks anyhow */ }
    },

    answer(event) {
      const button = event.target.closest("[data-instead]");
      if (!button) return;
      event.preventDefault();
      this.field.focus();
      this.field.select();
      const line = button.value.trim();
      if (!document.execCommand("insertText", false, line)) this.field.value = line;
      this.ask();
    },

    // What was saved by itself meanwhile made the link another: the draft's form knows which it is now.
    freshen(form) {
      const draft = document.querySelector("[data-draft]");
      if (draft?.elements.revision && form.elements.seen) form.elements.seen.value = draft.elements.revision.value;
    },
  }));
});
