// Runs before the first paint, so that what is only for pages without a script never flashes.
document.documentElement.classList.add("has-script");
