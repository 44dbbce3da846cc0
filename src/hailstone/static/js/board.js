// The lamp board: lamps flash at the computed rate by themselves, X holds them, letters and 0 work the strip.
"use strict";

(() => {
  const begin = (root) => {
    for (const lamp of root.querySelectorAll(".lamp-beat[data-beat]")) {
      lamp.style.setProperty("--beat", `${lamp.dataset.beat}s`);
      lamp.classList.add("beating");
    }
  };
  begin(document);
  const hold = document.querySelector("[data-hold]");
  const toggle = () => {
    const boards = document.querySelector(".boards");
    const isHeld = boards.classList.toggle("paused");
    hold?.setAttribute("aria-pressed", String(isHeld));
  };
  hold?.addEventListener("click", toggle);
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey || document.querySelector("dialog[open]")) return;
    if (event.target.matches("input, select, textarea")) return;
    if (event.key === "x" && hold) {
      event.preventDefault();
      toggle();
      return;
    }
    document.querySelector(`.board-card .switch[data-key="${CSS.escape(event.key.toLowerCase())}"]`)?.click();
  });
})();
