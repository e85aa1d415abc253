// Currency and time zone follow the country until they are chosen.
document.addEventListener("alpine:init", () => {
  Alpine.data("followCountry", () => ({
    init() {
      const usual = JSON.parse(document.getElementById("usual-of-countries").textContent);
      const field = (name) => this.$root.querySelector(`[name$="${name}"]`);
      const [country, currency, zone] = ["country", "currency", "time_zone"].map(field);
      const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
      country.addEventListener("change", () => {
        const [money, zones] = usual[country.value];
        if (money) currency.value = money;
        if (!zones.includes(zone.value)) zone.value = zones.includes(here) ? here : zones[0] || zone.value;
      });
    },
  }));
});
