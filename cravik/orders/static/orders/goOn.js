// Goes on to the seller's own page by itself, once and not at once: the buyer can stay.
(() => {
  const place = document.querySelector("[data-onward]");
  if (!place) return;
  if (window.top !== window) { // in a preview, which only shows
    place.querySelector("a").target = "_blank";
    return;
  }
  const gone = `gone-on-${place.dataset.reference}`;
  const says = place.querySelector("[data-onward-says]"), stay = place.querySelector("[data-stay]");
  let ticking = null;

  function stop() {
    clearInterval(ticking);
    says.hidden = stay.hidden = true;
  }

  function remember() {
    try { sessionStorage.setItem(gone, "yes"); } catch { /* then it goes on once more */ }
  }

  function start() {
    let left = 10;
    says.hidden = stay.hidden = false;
    ticking = setInterval(() => {
      if (document.hidden) return; // nobody is looking
      left -= 1;
      says.querySelector("[data-seconds]").textContent = String(left);
      if (left > 0) return;
      stop();
      remember();
      location.assign(place.dataset.onward);
    }, 1000);
  }

  let was = null;
  try { was = sessionStorage.getItem(gone); } catch { /* not kept here */ }
  if (was) return; // they came back
  stay.addEventListener("click", () => { stop(); remember(); place.querySelector("a").focus(); });
  addEventListener("pagehide", () => { clearInterval(ticking); remember(); });
  addEventListener("pageshow", (event) => { if (event.persisted) stop(); });
  start();
})();
