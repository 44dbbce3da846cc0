// The bench of Hook up: drawers open and close, arrow keys walk leads and states, Enter takes a way.
"use strict";

(() => {
  let open = null;

  const show = (id) => {
    open = id;
    for (const tab of document.querySelectorAll("[data-drawer]")) {
      const is = tab.dataset.drawer === id;
      tab.setAttribute("aria-selected", String(is));
      document.getElementById(tab.getAttribute("aria-controls")).hidden = !is;
    }
    document.getElementById("hookup")?.classList.toggle("drawers-shut", !id);
  };

  // Another lead or another state comes by itself. The request hangs on the bench, not on the link: what follows from a
  // choice redraws the links while somebody clicks.
  document.addEventListener("click", (event) => {
    const link = event.target.closest("[data-lead], [data-look]");
    if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
    event.preventDefault();
    history.replaceState(history.state, "", link.href);
    const address = link.href + (link.matches("[data-look]") ? "&only=look" : "");
    const how = link.matches("[data-look]") ? { swap: "none" } : { swap: "outerHTML" };
    htmx.ajax("GET", address, { source: "#hookup", target: "#hookup", ...how });
  });

  document.addEventListener("click", (event) => {
    const tab = event.target.closest("[data-drawer]");
    if (tab) show(tab.getAttribute("aria-selected") === "true" ? "" : tab.dataset.drawer);
  });
  // the lead that is walked to opens with the same drawer
  document.addEventListener("htmx:afterSwap", (event) => {
    if (event.detail.target?.id === "hookup" && open !== null) show(open);
  });

  const step = (list, at, by) => list[(at + by + list.length) % list.length];

  document.addEventListener("keydown", (event) => {
    const by = { ArrowUp: -1, ArrowLeft: -1, ArrowDown: 1, ArrowRight: 1 }[event.key];
    if (!by || event.ctrlKey || event.altKey || event.metaKey || document.querySelector("dialog[open]")) return;
    if (event.target.matches("input, textarea, select")) return;
    const upDown = event.key === "ArrowUp" || event.key === "ArrowDown";
    const tabs = [...document.querySelectorAll("[data-drawer]")];
    if (event.target.matches("[data-drawer]")) {
      if (upDown) return;
      step(tabs, tabs.indexOf(event.target), by).focus();
    } else if (event.target.matches("[data-way]") && upDown) {
      const ways = [...document.querySelectorAll("[data-way]")].filter((way) => way.offsetParent);
      step(ways, ways.indexOf(event.target), by).focus();
    } else if (upDown) {
      const leads = [...document.querySelectorAll("[data-lead]")];
      const here = leads.findIndex((lead) => lead.matches(".here"));
      if (leads.length > 1) step(leads, here, by).click();
    } else {
      const states = [...document.querySelectorAll("[data-state]")];
      const here = states.findIndex((state) => state.closest(".at"));
      if (states.length) step(states, here < 0 ? 0 : here, by).click();
    }
    event.preventDefault();
  });
})();
