// The table of what-if cases: worked out and kept as it is filled in.
document.addEventListener("alpine:init", () => {
  Alpine.data("whatIf", () => ({
    waiting: null, asking: null,

    init() {
      this.$root.addEventListener("input", (event) => {
        clearTimeout(this.waiting);
        this.waiting = setTimeout(() => this.send(), event.target.tagName === "SELECT" ? 0 : 500);
      });
      this.$root.addEventListener("draft-saved", () => this.refresh());
      this.$root.addEventListener("submit", (event) => { event.preventDefault(); this.send(event.submitter); });
    },

    async send(by) {
      clearTimeout(this.waiting);
      const form = this.$root.querySelector("[data-cases]");
      const sent = new URLSearchParams(new FormData(form));
      if (by?.name) sent.set(by.name, by.value);
      const asked = this.asking = Symbol("the last one counts");
      try {
        const response = await fetch(form.action, { method: "POST", body: sent, headers: { Accept: "application/json" } });
        if (!response.ok) throw new Error("no answer of ours");
        const { html } = await response.json();
        if (this.asking === asked) this.show(new DOMParser().parseFromString(html, "text/html").body, form, Boolean(by?.name));
      } catch {
        this.told(form, "There is no connection just now: these figures are not up to date.");
      }
    },

    // After a change of the draft: other fields may be there, unless somebody is filling these in.
    async refresh() {
      const form = this.$root.querySelector("[data-cases]");
      if (form?.contains(document.activeElement)) { this.send(); return; }
      const asked = this.asking = Symbol("the last one counts");
      try {
        const response = await fetch(this.$root.dataset.whatIf, { headers: { Accept: "application/json" } });
        const { html } = await response.json();
        if (this.asking !== asked) return;
        const page = new DOMParser().parseFromString(html, "text/html").body;
        this.$root.querySelector("[data-table]").replaceChildren(...page.childNodes);
      } catch { /* the bench says itself that there is no connection */ }
    },

    // While somebody types, only the figures change; a case more or less is another table.
    show(page, form, isAnother) {
      const rows = [...form.querySelectorAll("[data-case]")], anew = [...page.querySelectorAll("[data-case]")];
      if (isAnother || rows.length !== anew.length) {
        form.replaceWith(...page.childNodes);
        this.$root.querySelector("[data-case]:last-child :is(input:not([type=hidden]), select, button)")?.focus();
        return;
      }
      rows.forEach((row, number) => {
        for (const cell of row.querySelectorAll("[data-figure]")) cell.remove();
        row.querySelector(".case").after(...anew[number].querySelectorAll("[data-figure]"));
      });
    },

    told(form, words) {
      for (const row of form.querySelectorAll("[data-case]")) {
        for (const cell of row.querySelectorAll("[data-figure]")) cell.remove();
        const cell = Object.assign(document.createElement("td"), { className: "case-refused", colSpan: 6, textContent: words });
        cell.dataset.figure = "";
        row.querySelector(".case").after(cell);
      }
    },
  }));
});
