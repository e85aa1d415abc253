// The bench: phrases open their editors, what is typed is saved by itself, and the page is shown anew.
document.addEventListener("alpine:init", () => {
  Alpine.data("draftBench", () => ({
    init() {
      this.form = this.$root.querySelector("[data-draft]");
      this.saying = this.$root.querySelector("[data-saying]");
      this.view = this.$root.querySelector("[data-view]");
      this.kept = `bench-${this.$root.dataset.link}`;
      this.waiting = null;
      this.saving = false;
      this.halted = false;
      this.form.addEventListener("input", () => this.typed());
      this.form.addEventListener("submit", (event) => { event.preventDefault(); this.save(); });
      this.sentence = this.$root.querySelector("[data-sentence]");
      this.sentence.addEventListener("click", (event) => {
        const phrase = event.target.closest("[data-phrase]");
        if (!phrase) return;
        event.preventDefault();
        this.open(phrase.dataset.phrase);
      });
      this.sentence.addEventListener("keydown", (event) => {
        if (event.key !== " " || !event.target.dataset.phrase) return;
        event.preventDefault();
        this.open(event.target.dataset.phrase);
      });
      for (const width of this.$root.querySelectorAll("[data-width]")) {
        width.addEventListener("click", () => this.setWidth(width.dataset.width));
      }
      document.addEventListener("keydown", (event) => this.press(event));
      for (const publish of document.querySelectorAll("[data-publish]")) {
        publish.form.addEventListener("submit", (event) => this.publish(event));
      }
      window.addEventListener("beforeunload", (event) => { if (this.waiting || this.saving) event.preventDefault(); });
      this.bringBack();
    },

    phrases() { return [...this.$root.querySelectorAll("[data-phrase]")]; },

    open(about) {
      for (const phrase of this.phrases()) phrase.classList.toggle("is-open", phrase.dataset.phrase === about);
      const field = this.$root.querySelector(`[data-editor="${about}"] :is(input, textarea, select, a)`);
      field.focus();
      if (field.select) field.select();
    },

    press(event) {
      if (event.ctrlKey && event.key === "Enter") {
        const publish = [...document.querySelectorAll("[data-publish]")].find((button) => button.offsetParent);
        if (publish) publish.click();
        return;
      }
      if (event.target.closest("input, textarea, select") || event.ctrlKey || event.altKey || event.metaKey) return;
      const step = { "[": -1, "]": 1 }[event.key];
      if (!step) return;
      event.preventDefault();
      const phrases = this.phrases();
      const at = phrases.indexOf(document.activeElement);
      phrases[at < 0 ? (step > 0 ? 0 : phrases.length - 1) : (at + step + phrases.length) % phrases.length].focus();
    },

    say(words, trouble) {
      this.saying.textContent = words;
      this.saying.classList.toggle("is-trouble", Boolean(trouble));
    },

    // What is typed is kept in the browser until the server has it.
    typed() {
      if (this.halted) return;
      localStorage.setItem(this.kept, JSON.stringify(Object.fromEntries(new FormData(this.form))));
      this.say("Not saved yet …");
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.save(), 600);
    },

    bringBack() {
      let kept = null;
      try { kept = JSON.parse(localStorage.getItem(this.kept)); } catch { /* not ours */ }
      if (!kept) return;
      const present = new FormData(this.form);
      const names = new Set([...this.form.elements].map((field) => field.name).filter(Boolean));
      const differs = [...names].filter((name) => {
        if (this.form.elements[name].type === "hidden") return false;
        return (kept[name] ?? "") !== (present.get(name) ?? "");
      });
      if (!differs.length) { localStorage.removeItem(this.kept); return; }
      for (const name of differs) {
        const field = this.form.elements[name];
        if (field.type === "checkbox") field.checked = name in kept; else field.value = kept[name] ?? "";
      }
      if (kept.revision === this.form.elements.revision.value) this.save();
      else this.say("What you typed last was not saved, and the link has changed since. It is back in the fields: type on to keep it, or load the page again to drop it.", true);
      localStorage.removeItem(this.kept);
    },

    async save() {
      clearTimeout(this.waiting);
      this.waiting = null;
      if (this.saving) { this.waiting = setTimeout(() => this.save(), 200); return false; }
      this.saving = true;
      this.say("Saving …");
      const sent = new FormData(this.form);
      try {
        const response = await fetch(this.form.action, { method: "POST", body: sent, headers: { Accept: "application/json" } });
        if (!(response.headers.get("Content-Type") || "").includes("json")) throw new Error("no answer of ours");
        const answer = await response.json();
        this.showErrors(answer.errors || {});
        if (response.ok) this.saved(answer);
        else if (answer.changed_elsewhere) this.changedElsewhere();
        else this.say("Not saved: something needs another look.", true);
        return response.ok;
      } catch {
        this.say("Not saved: no connection. What you typed is kept here; trying again …", true);
        this.waiting = setTimeout(() => this.save(), 4000);
        return false;
      } finally {
        this.saving = false;
      }
    },

    saved(answer) {
      this.form.elements.revision.value = answer.revision;
      this.sentence.replaceChildren(...this.parsed(answer.sentence).childNodes);
      this.$root.querySelector("[data-what-if]").replaceChildren(...this.parsed(answer.slip).children);
      this.$root.querySelector("[data-missing]").replaceChildren(...this.parsed(answer.missing).children);
      for (const part of document.querySelectorAll("[data-unpublished]")) part.hidden = !answer.unpublished;
      if (!this.waiting) localStorage.removeItem(this.kept);
      if (answer.cleared) { location.reload(); return; } // which says what, and has fields for what is missing now
      this.say("Everything is saved.");
      this.view.contentWindow.location.reload();
    },

    parsed(html) { return new DOMParser().parseFromString(html, "text/html").body; },

    changedElsewhere() {
      this.halted = true;
      this.say("Not saved: this link was changed in another tab or by someone else. Copy what you need from the fields, then load the page again.", true);
      localStorage.removeItem(this.kept);
    },

    showErrors(errors) {
      for (const place of this.form.querySelectorAll("[data-error-for]")) {
        const found = errors[place.dataset.errorFor];
        const field = this.form.elements[place.dataset.errorFor];
        place.textContent = found ? found.join(" ") : "";
        place.hidden = !found;
        field.classList.toggle("is-invalid", Boolean(found));
        field.setAttribute("aria-invalid", String(Boolean(found)));
        if (found) field.setAttribute("aria-errormessage", place.id); else field.removeAttribute("aria-errormessage");
      }
    },

    // Publishing waits for what was typed last.
    async publish(event) {
      if (!this.waiting && !this.saving) return;
      event.preventDefault();
      const form = event.target;
      while (this.saving) await new Promise((done) => setTimeout(done, 50));
      if (await this.save()) form.submit();
    },

    setWidth(width) {
      this.view.classList.toggle("is-phone", width === "phone");
      for (const button of this.$root.querySelectorAll("[data-width]")) {
        button.setAttribute("aria-pressed", String(button.dataset.width === width));
      }
    },
  }));
});
