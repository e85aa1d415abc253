// Names of the catalogue's items under a field, once two letters are typed.
document.addEventListener("alpine:init", () => {
  Alpine.data("namesLike", () => ({
    field: null, list: null, asked: "",

    init() {
      this.field = this.$root.querySelector("input");
      this.list = this.$root.querySelector("datalist");
      this.field.addEventListener("input", () => this.ask());
    },

    async ask() {
      const typed = this.field.value.trim();
      if (typed.length < 2 || typed === this.asked) return;
      this.asked = typed;
      const names = this.$root.dataset.names;
      try {
        const response = await fetch(`${names}${names.includes("?") ? "&" : "?"}typed=${encodeURIComponent(typed)}`);
        const found = (await response.json()).names;
        if (this.asked !== typed) return;
        this.list.replaceChildren(...found.map((name) => Object.assign(document.createElement("option"), { value: name })));
      } catch { /* the first names are there, and anything else can be typed */ }
    },
  }));
});
