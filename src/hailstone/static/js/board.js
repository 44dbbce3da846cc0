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
  // the rate is tapped along: median of the last beats, and half their spread
  const tapped = document.querySelector("[data-tapped]");
  let beats = [];
  const tap = (event) => {
    const now = event.timeStamp / 1000; // when it was pressed, however long the page was busy
    if (beats.length && now - beats[beats.length - 1] > 2) beats = [];
    beats = [...beats, now].slice(-10);
    const rates = beats.slice(1).map((at, n) => 60 / (at - beats[n])).filter((rate) => rate < 400).sort((a, b) => a - b);
    if (rates.length < 4) {
      tapped.textContent = `${5 - beats.length > 0 ? 5 - beats.length : 1} more`;
      return;
    }
    const middle = Math.floor(rates.length / 2);
    const median = rates.length % 2 ? rates[middle] : (rates[middle - 1] + rates[middle]) / 2;
    tapped.textContent = `${median.toFixed(0)} a minute, ± ${((rates[rates.length - 1] - rates[0]) / 2).toFixed(0)}`;
  };
  document.querySelector("[data-tap]")?.addEventListener("pointerdown", tap);

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey || document.querySelector("dialog[open]")) return;
    if (event.target.matches("input, select, textarea")) return;
    if (event.key === " " && tapped && document.querySelector(".flasher-looks[open]") && !event.repeat) {
      event.preventDefault();
      tap(event);
      return;
    }
    if (event.key === "x" && hold) {
      event.preventDefault();
      toggle();
      return;
    }
    document.querySelector(`.board-card .switch[data-key="${CSS.escape(event.key.toLowerCase())}"]`)?.click();
  });
})();
