// The bench: phrases open their editors, what is typed is saved by itself, and the page is shown anew.
document.addEventListener("alpine:init", () => {
  Alpine.data("draftBench", () => ({
    form: null, saying: null, view: null, kept: "", waiting: null, saving: false, halted: false, touched: null,

    init() {
      this.form = this.$root.querySelector("[data-draft]");
      this.saying = this.$root.querySelector("[data-saying]");
      this.view = this.$root.querySelector("[data-view]");
      this.kept = `bench-${this.$root.dataset.link}`;
      this.touched = new Set();
      this.say(this.saying.textContent);
      this.form.addEventListener("input", (event) => { if (!("apart" in event.target.dataset)) this.typed(event.target); });
      this.form.addEventListener("submit", (event) => { event.preventDefault(); this.save(event.submitter); });
      this.$root.addEventListener("click", (event) => this.pressed(event));
      this.$root.addEventListener("keydown", (event) => {
        if (event.key === "Enter" && "enter" in event.target.dataset) { // it has a button of its own
          event.preventDefault();
          event.target.closest("[data-panel]").querySelector(`[value="${event.target.dataset.enter}"]`).click();
        }
        if (event.key !== " " || !event.target.dataset.phrase) return;
        event.preventDefault();
        this.open(event.target.dataset.phrase);
      });
      this.form.addEventListener("change", (event) => { if ("sends" in event.target.dataset) this.send(event.target); });
      for (const side of this.$root.querySelectorAll("button[data-side]")) {
        side.addEventListener("click", () => this.turn(side.dataset.side));
      }
      this.$root.querySelector("[data-whole]").addEventListener("click", (event) => this.showWhole(event.currentTarget));
      new ResizeObserver(() => this.offerWhole()).observe(this.$root.querySelector("[data-sentence]"));
      // A keyboard on the screen may lie over what stands at its foot.
      window.visualViewport?.addEventListener("resize", () => this.rise());
      for (const width of this.$root.querySelectorAll("[data-width]")) {
        width.addEventListener("click", () => this.setWidth(width.dataset.width));
      }
      for (const page of this.$root.querySelectorAll("[data-shows]")) {
        page.addEventListener("click", () => this.showPage(page));
      }
      document.addEventListener("keydown", (event) => this.press(event));
      for (const publish of document.querySelectorAll("[data-publish]")) {
        publish.form.addEventListener("submit", (event) => this.publish(event));
      }
      window.addEventListener("beforeunload", (event) => { if (this.waiting || this.saving) event.preventDefault(); });
      const asked = document.getElementById(location.hash.slice(1));
      this.show(asked?.closest("[data-panel]") ?? this.$root.querySelector(".panel.is-open"));
      if (asked && !asked.closest("[data-panel]")) this.turn("closed"); // what is asked for stands beside the fields
      this.$nextTick(() => { // when the lists of rows can take more rows
        if (asked?.dataset.editor) this.open(asked.dataset.editor);
        this.bringBack();
      });
    },

    pressed(event) {
      const phrase = event.target.closest("[data-phrase]");
      if (phrase) { event.preventDefault(); this.open(phrase.dataset.phrase); }
      const puts = event.target.closest("[data-puts]");
      if (puts) {
        const field = this.form.elements[puts.dataset.into];
        field.value = puts.dataset.puts;
        field.dispatchEvent(new Event("input", { bubbles: true }));
      }
      if (event.target.closest("[data-close-sheet]")) this.turn("closed");
      if (event.target.closest("[data-next]")) this.next(event.target.closest("[data-panel]"));
    },

    phrases() { return [...this.$root.querySelectorAll("[data-phrase]")]; },
    panels() { return [...this.$root.querySelectorAll("[data-panel]")]; },

    // One panel is open at a time.
    show(panel) {
      if (!panel) return;
      for (const each of this.panels()) each.classList.toggle("is-open", each === panel);
      this.mark();
    },

    mark() {
      const open = this.$root.querySelector(".panel.is-open");
      for (const phrase of this.phrases()) {
        const editor = open.querySelector(`[data-editor="${phrase.dataset.phrase}"]`);
        phrase.classList.toggle("is-open", Boolean(editor));
        phrase.setAttribute("aria-expanded", String(Boolean(editor)));
      }
    },

    open(about) {
      const editor = this.$root.querySelector(`[data-editor="${about}"]`);
      const panel = editor.closest("[data-panel]");
      this.turn("edit");
      this.show(panel);
      this.showPage(this.$root.querySelector(`[data-page="${panel.dataset.shownOn ?? "before"}"]`));
      const rows = editor.querySelector("[data-rows]");
      if (rows && !("startsEmpty" in rows.dataset) && !rows.querySelector("[data-row]:not([hidden])")) rows.querySelector("[data-add]").click();
      const field = editor.querySelector("[data-first]") ?? editor.querySelector(":is(input, textarea, select, a, button):not([type=hidden], [hidden], [data-mark])") ?? panel;
      field.focus({ preventScroll: true });
      // A single line is there to be replaced; of a text of several, one key would take all.
      if (field.matches("input")) field.select();
      panel.scrollTop = 0;
      if (getComputedStyle(panel).position !== "fixed") this.bringInSight(panel);
      field.scrollIntoView({ block: "nearest" });
    },

    bringInSight(panel) {
      const box = panel.getBoundingClientRect();
      if (box.top < 0 || box.top > window.innerHeight * 0.7) panel.scrollIntoView({ block: "nearest" });
    },

    // On a small screen: the fields, the page, or neither, where all that stands beside them can be read.
    turn(side) {
      this.$root.dataset.side = side;
      for (const button of this.$root.querySelectorAll("button[data-side]")) {
        button.setAttribute("aria-pressed", String(button.dataset.side === side));
      }
    },

    rise() {
      const { height, scale } = window.visualViewport;
      this.$root.style.setProperty("--under", `${scale === 1 ? Math.max(0, Math.round(innerHeight - height)) : 0}px`);
    },

    showWhole(button) {
      const whole = this.$root.classList.toggle("is-whole");
      button.setAttribute("aria-expanded", String(whole));
      button.textContent = whole ? "Show less" : "Show all";
    },

    // Offered where the sentence has more than two lines, or the row more than fits.
    offerWhole() {
      if (this.$root.classList.contains("is-whole")) return;
      const sentence = this.$root.querySelector("[data-sentence]"), row = this.$root.querySelector("[data-piece=decided]");
      this.$root.querySelector("[data-whole]").hidden = sentence.scrollHeight <= sentence.clientHeight + 2 && row.scrollWidth <= row.clientWidth + 2;
    },

    // Photos and files go by forms of their own, after what was typed is saved.
    async send(field) {
      if (!field.files.length || this.halted) return;
      while (this.saving) await new Promise((done) => setTimeout(done, 50));
      if ((this.waiting || this.touched.size) && !(await this.save())) {
        field.value = ""; // why is said; what is chosen again is sent
        return;
      }
      this.halted = true;
      this.say("Sending … Stay on this page until it is there.");
      field.form.submit();
    },

    next(panel) {
      const panels = this.panels();
      const after = panels[(panels.indexOf(panel) + 1) % panels.length];
      this.open(after.querySelector("[data-editor]").dataset.editor);
    },

    press(event) {
      if (event.ctrlKey && event.key === "Enter") {
        const publish = [...document.querySelectorAll("[data-publish]")].find((button) => button.offsetParent);
        if (publish) publish.click();
        return;
      }
      if ((event.ctrlKey || event.metaKey) && /^[zy]$/i.test(event.key)) {
        if (event.target.closest("input:not([type=checkbox], [type=radio]), textarea")) return; // which undo their own typing
        const redo = event.shiftKey || event.key.toLowerCase() === "y";
        event.preventDefault();
        this.$root.querySelector(redo ? "[data-key-redo]" : "[data-key-undo]")?.click();
        return;
      }
      if (event.target.closest("input, textarea, select") || event.ctrlKey || event.altKey || event.metaKey) return;
      if (event.key === "a") {
        event.preventDefault();
        this.$root.querySelector(".add-subject").open = true;
        return;
      }
      const step = { "[": -1, "]": 1 }[event.key];
      if (!step) return;
      event.preventDefault();
      const phrases = [...this.$root.querySelectorAll(".phrase, .decided")];
      const at = phrases.indexOf(document.activeElement);
      phrases[at < 0 ? (step > 0 ? 0 : phrases.length - 1) : (at + step + phrases.length) % phrases.length].focus();
    },

    say(words, trouble) {
      this.saying.textContent = words;
      const atFoot = this.$root.querySelector("[data-saying-too]"); // to be seen; it is told once
      atFoot.dataset.words = words;
      for (const place of [this.saying, atFoot]) place.classList.toggle("is-trouble", Boolean(trouble));
    },

    // What is typed is kept in the browser until the server has it.
    typed(field) {
      if (this.halted) return;
      this.touched.add(field.closest("[data-panel]"));
      this.keepCopy();
      this.say("Not saved yet …");
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.save(), field.tagName === "SELECT" ? 0 : 600);
    },

    // The browser's copy of what was typed, until the server has it: every value by its name. Where the browser keeps
    // nothing for us, saving goes on all the same.
    keepCopy() {
      const typed = {};
      for (const [name, value] of new FormData(this.form)) if (typeof value === "string") (typed[name] ??= []).push(value);
      try { localStorage.setItem(this.kept, JSON.stringify(typed)); } catch { /* full, or refused */ }
    },

    dropCopy() {
      try { localStorage.removeItem(this.kept); } catch { /* refused */ }
    },

    bringBack() {
      let kept = null;
      try { kept = JSON.parse(localStorage.getItem(this.kept)); } catch { /* not ours, or refused */ }
      if (!kept) return;
      this.makeRows(kept);
      const typed = (field) => [kept[field.name] ?? []].flat();
      const isChoice = (field) => field.type === "checkbox" || field.type === "radio";
      const isOurs = (field) => field.name && !field.disabled && !("apart" in field.dataset) && !["hidden", "submit", "button", "file"].includes(field.type);
      const differs = [...this.form.elements].filter((field) => {
        if (!isOurs(field) || (field.type === "radio" && !(field.name in kept))) return false;
        return isChoice(field) ? field.checked !== typed(field).includes(field.value) : field.value !== (typed(field)[0] ?? "");
      });
      for (const field of differs) {
        if (isChoice(field)) field.checked = typed(field).includes(field.value); else field.value = typed(field)[0] ?? "";
        this.touched.add(field.closest("[data-panel]"));
      }
      const isOfNow = [kept.revision].flat()[0] === this.form.elements.revision.value;
      if (differs.length && isOfNow) { this.save(); return; } // which drops the copy once all of it is kept
      this.dropCopy();
      if (differs.length) this.say("What you typed last was not saved, and the link has changed since. It is back in the fields: type on to keep it, or load the page again to drop it.", true);
    },

    makeRows(kept) {
      for (const list of this.form.querySelectorAll("[data-rows]")) {
        const total = this.form.elements[`${list.dataset.rows}-TOTAL_FORMS`];
        const add = list.querySelector("[data-add]");
        while (Number(total.value) < Number(kept[total.name] ?? 0) && !add.hidden) add.click();
      }
    },

    async save(by) {
      clearTimeout(this.waiting);
      this.waiting = null;
      if (this.halted) return false;
      if (this.saving) { this.waiting = setTimeout(() => this.save(by), 200); return false; }
      this.saving = true;
      this.say("Saving …");
      const panels = [...this.touched];
      const sent = this.fieldsOf(by?.closest("[data-panel]") ? [...panels, by.closest("[data-panel]")] : panels);
      if (by?.name) sent.set(by.name, by.value);
      this.touched.clear();
      try {
        const response = await fetch(this.form.action, { method: "POST", body: sent, headers: { Accept: "application/json" } });
        if (!(response.headers.get("Content-Type") || "").includes("json")) throw new Error("no answer of ours");
        const answer = await response.json();
        this.showErrors(answer.errors || {});
        if (!response.ok) for (const panel of panels) this.touched.add(panel);
        if (response.ok) this.saved(answer);
        else if (answer.changed_elsewhere) this.changedElsewhere();
        else this.say(`Not saved: ${answer.errors.__all__ ? answer.errors.__all__.join(" ") : "something needs another look."}`, true);
        return response.ok;
      } catch {
        for (const panel of panels) this.touched.add(panel);
        this.say("Not saved: no connection. What you typed is kept here; trying again …", true);
        this.waiting = setTimeout(() => this.save(by), 4000);
        return false;
      } finally {
        this.saving = false;
      }
    },

    // The fields of these panels, and those that stand in none; what is not sent stays as it is.
    fieldsOf(panels) {
      const sent = new URLSearchParams();
      for (const [name, value] of new FormData(this.form)) {
        const field = this.form.elements[name];
        const panel = (field.closest ? field : field[0]).closest("[data-panel]");
        if (!panel || panels.includes(panel)) sent.append(name, value);
      }
      return sent;
    },

    saved(answer) {
      this.form.elements.revision.value = answer.revision;
      if (!this.waiting) this.dropCopy();
      if (answer.reload) { // which says what was done, and has the fields of what is there now
        this.waiting = null; this.halted = true; // a second press was for the first
        if (answer.opens) location.hash = `panel-${answer.opens}`;
        location.reload();
        return;
      }
      for (const [name, html] of Object.entries(answer.pieces)) {
        const piece = this.$root.querySelector(`[data-piece="${name}"]`);
        if (!piece) continue;
        const opened = piece.querySelector("details")?.open; // whoever reads it reads on
        piece.replaceChildren(...this.parsed(html).childNodes);
        if (opened) piece.querySelector("details")?.setAttribute("open", "");
      }
      this.offerWhole();
      // What was typed meanwhile is not swept away: the next save brings the panel again.
      if (!this.waiting) for (const [name, html] of Object.entries(answer.panels)) this.reshape(name, html);
      for (const part of document.querySelectorAll("[data-unpublished]")) part.hidden = !answer.unpublished;
      this.mark();
      this.say("Everything is saved.");
      this.view.contentWindow.location.reload();
      document.querySelector("[data-what-if]").dispatchEvent(new Event("draft-saved"));
    },

    // A panel with other fields than before, such as those of another kind of price.
    reshape(name, html) {
      const panel = this.$root.querySelector(`[data-panel="${name}"]`);
      const focused = panel.contains(document.activeElement) ? document.activeElement.name : null;
      panel.querySelector("[data-panel-fields]").replaceChildren(...this.parsed(html).childNodes);
      if (focused) (this.form.elements[focused] ?? panel).focus();
    },

    parsed(html) { return new DOMParser().parseFromString(html, "text/html").body; },

    changedElsewhere() {
      this.halted = true;
      this.say("Not saved: this link was changed in another tab or by someone else. Copy what you need from the fields, then load the page again.", true);
      this.dropCopy();
    },

    showErrors(errors) {
      for (const place of this.form.querySelectorAll("[data-error-for]")) {
        const found = errors[place.dataset.errorFor];
        const field = this.form.elements[place.dataset.errorFor];
        if (!field) continue; // of a row that is not there yet
        place.textContent = found ? found.join(" ") : "";
        place.hidden = !found;
        for (const each of field.length && !field.options ? field : [field]) {
          each.classList.toggle("is-invalid", Boolean(found));
          each.setAttribute("aria-invalid", String(Boolean(found)));
          if (found) each.setAttribute("aria-errormessage", place.id); else each.removeAttribute("aria-errormessage");
        }
      }
      const told = [...this.form.querySelectorAll("[data-error-for]:not([hidden])")].map((place) => place.closest("[data-panel]"));
      if (told.length && !told.some((panel) => panel.classList.contains("is-open"))) this.show(told[0]);
    },

    // Publishing waits for what was typed last, and does not pass over what could not be saved.
    async publish(event) {
      if (!this.waiting && !this.saving && !this.touched.size) return;
      event.preventDefault();
      const form = event.target;
      while (this.saving) await new Promise((done) => setTimeout(done, 50));
      if (await this.save()) form.submit();
    },

    showPage(wanted) {
      if (wanted.getAttribute("aria-pressed") === "true") return;
      this.view.src = wanted.dataset.shows;
      for (const button of this.$root.querySelectorAll("[data-shows]")) {
        button.setAttribute("aria-pressed", String(button === wanted));
      }
    },

    setWidth(width) {
      this.view.classList.toggle("is-phone", width === "phone");
      for (const button of this.$root.querySelectorAll("[data-width]")) {
        button.setAttribute("aria-pressed", String(button.dataset.width === width));
      }
    },
  }));
});
