// What can be said, by example, found by a word of it.
document.addEventListener("alpine:init", () => {
  Alpine.data("sayHelp", () => ({
    init() {
      const field = this.$root.querySelector("[data-find]"), none = this.$root.querySelector("[data-none]");
      const rows = [...this.$root.querySelectorAll("li")];
      field.addEventListener("input", () => {
        const words = field.value.toLowerCase().split(/\s+/).filter(Boolean);
        for (const row of rows) row.hidden = !words.every((word) => row.textContent.toLowerCase().includes(word));
        none.hidden = rows.some((row) => !row.hidden);
      });
      field.addEventListener("keydown", (event) => { if (event.key === "Enter") event.preventDefault(); });
    },
  }));
});
