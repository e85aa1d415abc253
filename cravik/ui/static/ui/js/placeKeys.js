// Keys that lead to places. None fires while something is typed.
document.addEventListener("alpine:init", () => {
  Alpine.data("placeKeys", () => ({
    going: false,

    init() {
      document.addEventListener("keydown", (event) => this.press(event));
      document.addEventListener("click", (event) => this.closeMenus(event));
      const opener = document.querySelector("[data-show-keys]");
      if (opener) opener.addEventListener("click", () => this.showKeys());
    },

    press(event) {
      if (event.key === "Escape") {
        for (const menu of document.querySelectorAll("details.who[open]")) {
          menu.open = false;
          menu.querySelector("summary").focus();
        }
        return;
      }
      const typing = event.target.closest("input, textarea, select, [contenteditable]");
      if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
      if (this.going) {
        this.going = false;
        const place = document.querySelector(`.places [data-key="${CSS.escape(event.key)}"]`);
        if (place) place.click();
        return;
      }
      if (event.key === "g") this.going = true;
      if (event.key === "n") document.querySelector("[data-new-link]").click();
      if (event.key === "?") this.showKeys();
      const search = document.querySelector("main form[role=search] input[type=search]") ?? document.querySelector("input[type=search]");
      if (event.key === "/" && search) {
        event.preventDefault();
        search.focus();
      }
    },

    showKeys() {
      document.querySelector(".keys-dialog").showModal();
    },

    closeMenus(event) {
      for (const menu of document.querySelectorAll("details.who[open]")) {
        if (!menu.contains(event.target)) menu.open = false;
      }
    },
  }));
});
