// A picture says what is pointed at, by pointer, touch or arrow keys, in one sentence below it.
document.addEventListener("alpine:init", () => {
  Alpine.data("sayPoint", () => ({
    init() {
      const said = this.$root.querySelector("[data-said]");
      const say = (point) => {
        this.$root.querySelector(".is-said")?.classList.remove("is-said");
        point.classList.add("is-said");
        said.textContent = point.dataset.say;
      };
      for (const kind of ["pointerover", "pointerdown"]) {
        this.$root.addEventListener(kind, (event) => {
          const point = event.target.closest("[data-say]");
          if (point) say(point);
        });
      }
      for (const picture of this.$root.querySelectorAll("svg.picture")) {
        const points = [...picture.querySelectorAll("[data-say]")];
        if (!points.length) continue;
        picture.setAttribute("tabindex", "0");
        picture.addEventListener("keydown", (event) => {
          const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
          if (!step) return;
          event.preventDefault();
          const now = points.indexOf(picture.querySelector(".is-said"));
          say(points[now < 0 ? (step > 0 ? 0 : points.length - 1) : Math.min(Math.max(now + step, 0), points.length - 1)]);
        });
      }
    },
  }));
});
