// Several pictures of one thing: a row to swipe, to step through, and to show what is chosen. It scrolls without a script.
(() => {
  class ItemPictures {
    constructor(root) {
      this.row = root.querySelector("[data-pictures-row]");
      this.pictures = [...this.row.children];
      this.where = root.querySelector("[data-at]");
      for (const step of root.querySelectorAll("[data-step]")) {
        step.addEventListener("click", () => this.show(this.at() + Number(step.dataset.step)));
      }
      this.row.addEventListener("keydown", (event) => this.pressed(event));
      this.row.addEventListener("scroll", () => this.tell());
      const line = root.closest("[data-line]");
      line.addEventListener("change", (event) => this.chosen(event.target));
      for (const picked of line.querySelectorAll("input:checked")) this.chosen(picked);
    }

    at() { return Math.round(this.row.scrollLeft / this.row.clientWidth); }

    show(number) {
      const last = this.pictures.length - 1;
      this.row.scrollTo({ left: Math.max(0, Math.min(last, number)) * this.row.clientWidth });
    }

    tell() { this.where.textContent = `${this.at() + 1} of ${this.pictures.length}`; }

    pressed(event) {
      const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      if (!step) return;
      event.preventDefault();
      this.show(this.at() + step);
    }

    // The field of a group is named option.LINE.NUMBER.
    chosen(field) {
      const group = Number((field.name || "").split(".").pop());
      const own = this.pictures.findIndex((picture) =>
        JSON.parse(picture.dataset.shows).some(([number, name]) => number === group && name === field.value));
      if (own >= 0) this.show(own);
    }
  }

  for (const root of document.querySelectorAll("[data-pictures]")) new ItemPictures(root);
})();
