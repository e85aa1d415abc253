// Selecting the rows of a list: all of a page by one tick, how many are selected, and what can be done with them.
document.addEventListener("alpine:init", () => {
  Alpine.data("pickRows", () => ({
    init() {
      const all = this.$root.querySelector("[data-pick-all]"), found = this.$root.querySelector("[data-pick-found]");
      const many = this.$root.querySelector("[data-many]");
      const picks = [...this.$root.querySelectorAll("[data-pick]")];
      const tell = () => {
        const picked = picks.filter((pick) => pick.checked).length;
        all.checked = picked === picks.length;
        many.hidden = !picked && !found?.checked; // what can be done with them is asked once some are selected
        all.indeterminate = picked > 0 && picked < picks.length;
        this.$root.querySelector("[data-picked]").textContent = picked ? `${picked} selected` : "Select all";
        for (const pick of picks) pick.disabled = Boolean(found?.checked);
        all.disabled = Boolean(found?.checked);
      };
      all.addEventListener("change", () => { for (const pick of picks) pick.checked = all.checked; tell(); });
      this.$root.addEventListener("change", tell);
      tell(); // what the browser had ticked when one comes back
    },
  }));
});
