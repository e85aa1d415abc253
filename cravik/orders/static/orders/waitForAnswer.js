// Looks every few seconds whether the payment has its answer, and shows the page anew when it has.
(() => {
  async function look() {
    try {
      const answer = await fetch(location.href, { headers: { Accept: "text/html" } });
      if (answer.ok && answer.headers.get("X-Answered") !== "no") {
        location.reload();
        return;
      }
    } catch { /* offline for a moment: look again */ }
    setTimeout(look, 3000);
  }

  setTimeout(look, 3000);
  // After half a minute the page has a way to call the payment off.
  if (!document.querySelector("[data-call-off]")) setTimeout(() => location.reload(), 32000);
})();
