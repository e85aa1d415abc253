// How long it still takes until the link opens; then the page is loaded again.
(() => {
  const time = document.querySelector("[data-count-down]"), left = document.querySelector("[data-left]");
  // By the server's clock: a visitor's own may be wrong.
  const opens = performance.now() + 1000 * Number(time.dataset.countDown);
  const units = [["day", 86400], ["hour", 3600], ["minute", 60], ["second", 1]];

  function words(seconds) {
    const first = units.findIndex(([, size]) => seconds >= size);
    const told = units.slice(first < 0 ? 3 : first).slice(0, 2).map(([name, size], place, pair) => {
      const count = Math.floor((place ? seconds % pair[0][1] : seconds) / size);
      return place && !count ? "" : `${count} ${name}${count === 1 ? "" : "s"}`;
    });
    return told.filter(Boolean).join(" and ");
  }

  // The page is asked for a little later than it opens, each visitor at a moment of their own.
  const late = 500 + Math.random() * 2500;

  function tell() {
    const seconds = Math.ceil((opens - performance.now()) / 1000);
    if (seconds <= 0) {
      left.textContent = ", that is now";
      setTimeout(() => location.replace(location.pathname), late);
      return;
    }
    left.textContent = `, in ${words(seconds)}`;
    setTimeout(tell, seconds > 7200 ? 30000 : 1000);
  }

  tell();
})();
