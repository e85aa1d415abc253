// A new link by one said line: how it is understood, and the page that it makes, while one types.
document.addEventListener("alpine:init", () => {
  Alpine.data("sayOffer", () => ({
    form: null, field: null, understood: null, view: null, waiting: null, showing: null, asking: null, shown: "", pressed: false,

    init() {
      this.form = this.$root.querySelector("[data-say]");
      this.field = this.form.elements.said;
      this.understood = this.$root.querySelector("[data-understood]");
      this.view = this.$root.querySelector("[data-view]");
      this.field.addEventListener("input", () => { clearTimeout(this.waiting); this.waiting = setTimeout(() => this.ask(), 120); });
      this.field.addEventListener("keydown", (event) => this.press(event));
      this.form.addEventListener("submit", (event) => { if (this.pressed) event.preventDefault(); this.pressed = true; });
      window.addEventListener("pageshow", (event) => { if (event.persisted) this.pressed = false; });
      for (const example of this.$root.querySelectorAll("[data-example]")) {
        example.addEventListener("click", () => { this.field.value = example.textContent; this.field.focus(); this.ask(); });
      }
      this.understood.addEventListener("click", (event) => this.answer(event));
      if (this.field.value.trim()) this.ask();
    },

    // An answer to a question is another line: it is typed in its place, so that undo takes it back.
    answer(event) {
      const button = event.target.closest("[data-instead]");
      if (!button) return;
      event.preventDefault();
      const [, number, line] = /^(\d+) (.*)$/s.exec(button.value) ?? [];
      if (line === undefined) return;
      const lines = this.field.value.split("\n"), places = [...lines.keys()].filter((place) => lines[place].trim());
      const place = places[Number(number)], begin = lines.slice(0, place).reduce((sum, each) => sum + each.length + 1, 0);
      this.field.focus();
      this.field.setSelectionRange(begin, begin + lines[place].length);
      // The one way of typing that the browser's own undo knows; elsewhere the text is put there.
      if (!document.execCommand("insertText", false, line)) { this.field.setRangeText(line, begin, begin + lines[place].length, "end"); }
      this.ask();
    },

    // Enter makes the draft of one line; in several it is a new line.
    press(event) {
      if (event.key !== "Enter" || event.shiftKey || event.isComposing) return;
      const publishes = event.ctrlKey || event.metaKey;
      if (!publishes && this.field.value.trim().includes("\n")) return;
      event.preventDefault();
      event.stopPropagation();
      const button = this.understood.querySelector(publishes ? "[name=publish]" : ".act-main");
      if (button) this.form.requestSubmit(button);
    },

    async ask() {
      const asked = this.asking = Symbol("the last one counts");
      try {
        const response = await fetch(this.$root.dataset.understand, { method: "POST", body: new URLSearchParams(new FormData(this.form)) });
        if (!response.ok) throw new Error("no answer of ours");
        const { html, text } = await response.json();
        if (this.asking !== asked) return;
        const page = new DOMParser().parseFromString(html, "text/html").body;
        this.understood.replaceChildren(...page.childNodes);
        clearTimeout(this.showing);
        this.showing = setTimeout(() => this.show(text), 250);
      } catch { /* typed on: it is asked again, and the button asks the server anyhow */ }
    },

    show(text) {
      this.view.hidden = !text;
      this.$root.querySelector("[data-no-view]").hidden = Boolean(text);
      if (!text || text === this.shown) return;
      this.shown = text;
      // In place of what was there, so that the way back does not lead through all that was typed.
      this.view.contentWindow.location.replace(`${this.$root.dataset.page}?said=${encodeURIComponent(text)}`);
    },
  }));
});
