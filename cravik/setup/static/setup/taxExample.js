// Works the example sale out again while the rates are typed. What can't be read yet leaves the last one standing.
document.addEventListener("alpine:init", () => {
  Alpine.data("taxExample", () => ({
    waiting: null,

    init() {
      const form = this.$root.closest("form");
      for (const kind of ["input", "click"]) {
        form.addEventListener(kind, () => {
          clearTimeout(this.waiting);
          this.waiting = setTimeout(() => this.show(form), 400);
        });
      }
    },

    async show(form) {
      const typed = new FormData(form);
      typed.set("in", this.$root.dataset.currency);
      const answer = await fetch(this.$root.dataset.address, { method: "POST", body: typed }).catch(() => null);
      if (answer && answer.status === 200) this.$root.querySelector("[data-example]").innerHTML = await answer.text();
    },
  }));
});
