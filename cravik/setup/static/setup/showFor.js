// Shows what belongs to the chosen kind alone. Without it everything is there to fill in.
document.addEventListener("alpine:init", () => {
  Alpine.data("showFor", () => ({
    chosen: null,

    init() {
      this.chosen = this.$root.querySelector("select[name$=-kind]");
      this.chosen.addEventListener("change", () => this.show());
      this.show();
    },

    show() {
      for (const part of this.$root.querySelectorAll("[data-for]")) {
        part.hidden = !part.dataset.for.split(" ").includes(this.chosen.value);
      }
    },
  }));
});
