// Pictures of an item: sent one by one with their progress, put in order by dragging, focused by a press.
document.addEventListener("alpine:init", () => {
  Alpine.data("pictureTray", () => ({
    list: null, upload: null, progress: null,

    init() {
      this.list = this.$root.querySelector("[data-pictures]");
      this.upload = this.$root.querySelector("[data-upload]");
      if (this.upload) {
        this.progress = this.$root.querySelector("[data-progress]");
        this.upload.addEventListener("change", (event) => this.sendAll(event.target));
      }
      if (this.list) {
        this.letDrag();
        this.list.addEventListener("submit", (event) => this.act(event));
      }
      for (const image of this.$root.querySelectorAll("[data-focus]")) {
        image.addEventListener("click", (event) => this.focus(image, event));
      }
    },

    async sendAll(input) {
      let refused = false;
      for (const file of [...input.files]) refused = !(await this.send(file)) || refused;
      input.value = "";
      const told = refused ? [...this.progress.children] : [];
      await this.showAnew(await fetch(location.href));
      document.querySelector("#pictures [data-progress]")?.append(...told);
    },

    send(file) {
      const line = this.say(`${file.name}: sending …`);
      const bar = document.createElement("progress");
      bar.max = 1;
      bar.setAttribute("aria-label", `${file.name} is being sent`);
      line.append(" ", bar);
      const form = new FormData();
      form.append("photo", file);
      form.append("csrfmiddlewaretoken", this.upload.elements.csrfmiddlewaretoken.value);
      return new Promise((done) => {
        const request = new XMLHttpRequest();
        request.open("POST", this.upload.action);
        request.setRequestHeader("Accept", "application/json");
        request.responseType = "json";
        request.upload.addEventListener("progress", (event) => {
          if (event.lengthComputable) bar.value = event.loaded / event.total;
          if (event.loaded === event.total) line.firstChild.textContent = `${file.name}: being made ready …`;
        });
        request.addEventListener("loadend", () => {
          const taken = request.status === 201;
          const why = (request.response && request.response.refused) || `“${file.name}” was not taken: the server could not be reached. Try it again.`;
          line.textContent = taken ? `${file.name}: taken.` : why;
          if (taken) line.dataset.taken = "";
          line.classList.toggle("is-trouble", !taken);
          done(taken);
        });
        request.send(form);
      });
    },

    say(words) {
      const line = document.createElement("p");
      line.className = "saying";
      line.textContent = words;
      this.progress.append(line);
      return line;
    },

    letDrag() {
      let dragged = null;
      this.list.addEventListener("dragstart", (event) => { dragged = event.target.closest("[data-picture]"); });
      this.list.addEventListener("dragover", (event) => {
        const over = event.target.closest("[data-picture]");
        if (!dragged || !over || over === dragged) return;
        event.preventDefault();
        const box = over.getBoundingClientRect();
        const after = event.clientY > box.top + box.height / 2;
        over.parentNode.insertBefore(dragged, after ? over.nextSibling : over);
      });
      this.list.addEventListener("drop", (event) => event.preventDefault());
      this.list.addEventListener("dragend", () => { if (dragged) this.keepOrder(); dragged = null; });
    },

    async keepOrder() {
      const form = new FormData();
      form.append("order", [...this.list.children].map((each) => each.dataset.picture).join(","));
      form.append("csrfmiddlewaretoken", this.list.querySelector("[name=csrfmiddlewaretoken]").value);
      await fetch(this.$root.dataset.order, { method: "POST", body: form });
      await this.showAnew(await fetch(location.href));
    },

    // Only the pictures: what is being typed about the item stays as it is.
    async showAnew(response) {
      const page = new DOMParser().parseFromString(await response.text(), "text/html");
      const fresh = page.querySelector("#pictures");
      if (!fresh) { location.reload(); return; }
      this.$root.replaceWith(fresh);
    },

    async act(event) {
      event.preventDefault();
      const form = new FormData(event.target, event.submitter);
      await this.showAnew(await fetch(event.target.action, { method: "POST", body: form }));
    },

    focus(image, event) {
      const details = image.closest("[data-picture]").querySelector("details");
      if (!details.open) return;
      const box = image.getBoundingClientRect();
      const tenth = (part) => String(Math.min(100, Math.max(0, Math.round(part * 10) * 10)));
      const [x, y] = [tenth((event.clientX - box.left) / box.width), tenth((event.clientY - box.top) / box.height)];
      details.querySelector("[name$=focus_x]").value = x;
      details.querySelector("[name$=focus_y]").value = y;
      image.className = image.className.replace(/focus-x-\d+/, `focus-x-${x}`).replace(/focus-y-\d+/, `focus-y-${y}`);
    },
  }));
});
