// Adds blank rows to a list of fields, up to as many as the server takes, and removes rows.
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
      this.list.addEventListener("click", (event) => {
        const pressed = event.target.closest("[data-remove]");
        if (pressed) this.remove(pressed.closest("[data-row]"));
        const moved = event.target.closest("[data-move]");
        if (moved) this.move(moved, moved.closest("[data-row]"), Number(moved.dataset.move));
      });
      this.list.addEventListener("pointerdown", (event) => {
        const handle = event.target.closest("[data-handle]");
        if (handle && event.isPrimary && event.button === 0) this.drag(handle, event);
      });
      for (const removed of this.list.querySelectorAll("[data-row]:has([name$=-DELETE]:checked)")) this.remove(removed);
      this.show();
    },

    add() {
      const holder = document.createElement("div");
      holder.innerHTML = this.blank.innerHTML.replaceAll("__prefix__", this.total.value);
      const row = holder.firstElementChild;
      this.list.append(row);
      this.total.value = String(Number(this.total.value) + 1);
      for (const named of row.querySelectorAll("[aria-label]")) named.setAttribute("aria-label", `${named.getAttribute("aria-label")} ${this.total.value}`);
      row.querySelector("input:not([type=hidden])").focus();
      this.show();
    },

    // The server drops it when the form is saved; until then it waits at the end of the list, out of sight.
    remove(row) {
      const box = row.querySelector("[name$=-DELETE]");
      box.checked = true;
      row.hidden = true;
      const next = row.nextElementSibling ?? row.previousElementSibling;
      this.list.append(row);
      box.dispatchEvent(new Event("input", { bubbles: true }));
      (next && !next.hidden ? next.querySelector("input, select") : this.button).focus();
    },

    // Rows that have places are told apart by them, whatever order they are sent in.
    move(button, row, by) {
      const rows = [...this.list.querySelectorAll("[data-row]:not([hidden])")];
      const at = rows.indexOf(row), other = rows[at + by];
      if (!other) return;
      if (by < 0) other.before(row); else other.after(row);
      this.placed(row);
      button.focus();
    },

    // By mouse or finger: the row goes where the pointer is; Escape lets it be where it was.
    drag(handle, begun) {
      const row = handle.closest("[data-row]"), after = row.nextElementSibling;
      begun.preventDefault();
      // Only their heads are in sight meanwhile, so that every place can be reached.
      row.classList.add("is-dragged");
      this.list.classList.add("is-sorting");
      window.scrollBy(0, handle.getBoundingClientRect().top + handle.offsetHeight / 2 - begun.clientY);
      const over = (event) => {
        if (event.clientY > window.innerHeight - 60) window.scrollBy(0, 16);
        else if (event.clientY < 60) window.scrollBy(0, -16);
        const others = [...this.list.querySelectorAll("[data-row]:not([hidden])")].filter((each) => each !== row);
        const below = others.find((each) => {
          const box = each.getBoundingClientRect();
          return event.clientY < box.top + box.height / 2;
        });
        if (below && row.nextElementSibling !== below) below.before(row);
        else if (!below && others.length && others.at(-1).nextElementSibling !== row) others.at(-1).after(row);
      };
      const end = (event) => {
        row.classList.remove("is-dragged");
        this.list.classList.remove("is-sorting");
        document.removeEventListener("pointermove", over);
        for (const name of ["pointerup", "pointercancel"]) document.removeEventListener(name, end);
        document.removeEventListener("keydown", leave);
        if (event.type !== "pointerup") this.list.insertBefore(row, after);
        else if (row.nextElementSibling !== after) this.placed(row);
      };
      const leave = (event) => { if (event.key === "Escape") end(event); };
      // The row is moved while it is dragged, and what is moved loses the pointer: the document hears of it.
      document.addEventListener("pointermove", over);
      for (const name of ["pointerup", "pointercancel"]) document.addEventListener(name, end);
      document.addEventListener("keydown", leave);
    },

    placed(row) {
      const order = [...this.list.querySelectorAll("[data-row]:not([hidden])")];
      order.forEach((each, place) => { each.querySelector("[name$=-place]").value = String(place); });
      row.querySelector("[name$=-place]").dispatchEvent(new Event("input", { bubbles: true }));
    },

    show() { this.button.hidden = Number(this.total.value) >= this.most; },
  }));
});
