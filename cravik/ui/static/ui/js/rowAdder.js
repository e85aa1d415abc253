// Adds blank rows to a list of fields, up to as many as the server takes.
document.addEventListener("alpine:init", () => {
  Alpine.data("rowAdder", () => ({
    // Named here, or they would be kept by whatever this stands in.
    list: null, blank: null, button: null, total: null, most: 0,

    init() {
      const prefix = this.$root.dataset.rows;
      this.list = this.$root.querySelector("[data-list]");
      this.blank = this.$root.querySelector("[data-blank]");
      this.button = this.$root.querySelector("[data-add]");
      this.total = this.$root.querySelector(`[name="${prefix}-TOTAL_FORMS"]`);
      this.most = Number(this.$root.querySelector(`[name="${prefix}-MAX_NUM_FORMS"]`).value);
      this.button.addEventListener("click", () => this.add());
      this.show();
    },

    add() {
      const holder = document.createElement("div");
      holder.innerHTML = this.blank.innerHTML.replaceAll("__prefix__", this.total.value);
      const row = holder.firstElementChild;
      this.list.append(row);
      this.total.value = String(Number(this.total.value) + 1);
      row.setAttribute("aria-label", `${row.getAttribute("aria-label")} ${this.total.value}`);
      row.querySelector("input:not([type=hidden])").focus();
      this.show();
    },

    show() { this.button.hidden = Number(this.total.value) >= this.most; },
  }));
});
