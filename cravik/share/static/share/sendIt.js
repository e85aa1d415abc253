// Sends a link: opens the message in the program for it, shares it, or copies it. Its spot is made on the first use.
document.addEventListener("alpine:init", () => {
  Alpine.data("sendIt", () => ({
    said: "",

    init() {
      for (const form of this.$root.querySelectorAll("form")) {
        if (form.dataset.channel === "sheet" && !navigator.share) form.hidden = true;
        form.addEventListener("submit", (event) => { event.preventDefault(); this.send(form); });
      }
    },

    async send(form) {
      try {
        const message = form.dataset.text ? { ...form.dataset } : await this.made(form);
        if (message.refused) { this.said = message.refused; return; }
        Object.assign(form.dataset, message);
        if (message.opens) location.href = message.opens;
        else if (form.dataset.channel === "sheet") await navigator.share({ text: message.text });
        else { await navigator.clipboard.writeText(message.text); this.said = "Copied."; }
      } catch (trouble) {
        if (trouble.name !== "AbortError") form.submit(); // its own page shows the message
      }
    },

    async made(form) {
      const response = await fetch(form.action, { method: "POST", headers: { Accept: "application/json" }, body: new FormData(form) });
      return response.json();
    },
  }));
});
