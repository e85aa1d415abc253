// Shows how far a piece of work is, and loads the page again when it is done.
(() => {
  const work = document.querySelector("[data-progress]");
  const bar = work.querySelector("progress");

  async function look() {
    try {
      const answer = await fetch(work.dataset.progress, { headers: { Accept: "application/json" } });
      if (answer.ok) {
        const { busy, done, total } = await answer.json();
        if (!busy) { location.reload(); return; }
        bar.max = total || 1;
        bar.value = done;
      }
    } catch { /* offline for a moment: look again */ }
    setTimeout(look, 700);
  }

  setTimeout(look, 400);
})();
