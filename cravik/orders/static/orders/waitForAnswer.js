// Looks every few seconds whether the payment has its answer, and shows the page anew when it has.
(() => {
  // A bank that asks in a window of its own can't lead this page away, and its window goes when it has its answer.
  let bank = null;
  document.querySelector("[data-bank]")?.addEventListener("click", (event) => {
    bank = window.open("", "_blank");
    if (!bank) return; // the link opens it
    event.preventDefault();
    bank.opener = null;
    bank.location.replace(event.target.href);
  });

  async function look() {
    try {
      const answer = await fetch(location.href, { headers: { Accept: "text/html" } });
      if (answer.ok && answer.headers.get("X-Answered") !== "no") {
        bank?.close();
        location.reload();
        return;
      }
    } catch { /* offline for a moment: look again */ }
    setTimeout(look, 3000);
  }

  setTimeout(look, 3000);
  // After half a minute the page has a way to call the payment off.
  if (!document.querySelector("[data-call-off]")) setTimeout(() => { if (!bank || bank.closed) location.reload(); }, 32000);
})();
