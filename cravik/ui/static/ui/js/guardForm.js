// Asks before a page is left on which something was typed and not saved.
document.addEventListener("alpine:init", () => {
  Alpine.data("guardForm", () => ({
    init() {
      let typed = false;
      this.$root.addEventListener("input", () => { typed = true; });
      this.$root.addEventListener("submit", () => { typed = false; });
      window.addEventListener("beforeunload", (event) => { if (typed) event.preventDefault(); });
    },
  }));
});
