// Says before saving when the rates are for so many places that every link has to ask where its buyer is.
document.addEventListener("alpine:init", () => {
  Alpine.data("taxPlaces", () => ({
    init() {
      const form = this.$root.closest("form");
      const value = (row, name) => row.querySelector(`[name$="-${name}"]`).value.trim().toLowerCase();
      const tell = () => {
        const rows = [...form.querySelectorAll("[data-row]")].filter((row) => !row.hidden && value(row, "percent"));
        const places = new Set(rows.map((row) => `${value(row, "country")} ${value(row, "region")}`));
        const how = form.querySelector("[name=how]:checked");
        this.$root.hidden = places.size < 2 || !how || how.value === "none";
      };
      form.addEventListener("input", tell);
      tell();
    },
  }));
});
