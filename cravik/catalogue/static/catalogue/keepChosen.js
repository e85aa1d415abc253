// Files are kept as soon as they are chosen; no second press is needed.
document.addEventListener("alpine:init", () => {
  Alpine.data("keepChosen", () => ({
    init() {
      this.$root.addEventListener("change", (event) => {
        if (!event.target.files || !event.target.files.length) return;
        this.$root.querySelector("[data-sending]").hidden = false;
        this.$root.submit();
      });
    },
  }));
});
