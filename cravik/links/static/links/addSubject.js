// The list of what can be added to a link, with a search of its own.
document.addEventListener("alpine:init", () => {
  Alpine.data("addSubject", () => ({
    init() {
      this.search = this.$root.querySelector("[type=search]");
      this.search.addEventListener("input", () => this.find());
      this.search.addEventListener("keydown", (event) => this.pressed(event));
      this.$root.addEventListener("toggle", () => this.toggled());
      this.$root.addEventListener("click", (event) => { if (event.target.closest("[data-phrase]")) this.$root.open = false; });
      this.$root.addEventListener("keydown", (event) => { if (event.key === "Escape") this.close(); });
      document.addEventListener("click", (event) => { if (!this.$root.contains(event.target)) this.$root.open = false; });
    },

    toggled() {
      this.search.value = "";
      this.find();
      // Where a keyboard would cover the list, it is read first.
      if (this.$root.open && matchMedia("(pointer: fine)").matches) this.search.focus();
    },

    close() {
      this.$root.open = false;
      this.$root.querySelector("summary").focus();
    },

    rows() { return [...this.$root.querySelectorAll("[data-found-by]")]; },

    // Each word that is typed begins a word of what is found.
    find() {
      const typed = this.search.value.toLowerCase().split(/\s+/).filter(Boolean);
      for (const row of this.rows()) {
        const words = row.dataset.foundBy.split(/[^\p{L}\d]+/u);
        row.hidden = typed.length ? !typed.every((start) => words.some((word) => word.startsWith(start))) : "decided" in row.dataset;
      }
      this.$root.querySelector("[data-none]").hidden = this.rows().some((row) => !row.hidden);
    },

    pressed(event) {
      if (event.key !== "Enter") return;
      event.preventDefault();
      this.rows().find((row) => !row.hidden)?.querySelector("a").click();
    },
  }));
});
