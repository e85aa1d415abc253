// Says before saving that rates of other places than the seller's country make every link ask where its buyer is.
document.addEventListener("alpine:init", () => {
  Alpine.data("taxPlaces", () => ({
    init() {
      const form = this.$root.closest("form");
      const value = (row, name) => row.querySelector(`[name$="-${name}"]`).value.trim().toLowerCase();
      const tell = () => {
        const rows = [...form.querySelectorAll("[data-row]")].filter((row) => !row.hidden && value(row, "percent"));
        const home = this.$root.dataset.home.toLowerCase();
        const elsewhere = rows.some((row) => value(row, "country") !== home || value(row, "region"));
        const how = form.querySelector("[name=how]:checked");
        this.$root.hidden = !elsewhere || !how || how.value === "none";
      };
      form.addEventListener("input", tell);
      tell();
    },
  }));
});
