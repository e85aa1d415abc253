// Looks every few seconds whether the payment has its answer, and shows the page anew when it is.
document.addEventListener("alpine:init", () => {
  Alpine.data("waitForAnswer", () => ({
    init() {
      setTimeout(() => this.look(), 3000);
    },

    async look() {
      try {
        const answer = await fetch(location.href, { headers: { Accept: "text/html" } });
        if (answer.ok && answer.headers.get("X-Settled") === "yes") {
          location.reload();
          return;
        }
      } catch { /* offline for a moment: look again */ }
      setTimeout(() => this.look(), 3000);
    },
  }));
});
