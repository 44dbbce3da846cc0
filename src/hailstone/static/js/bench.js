// The bench by keyboard: Enter goes to the next wire, arrows move, letters work the switch strip.
// A reading that is typed and not yet saved is kept as a draft, so neither a reload nor a dead server loses it.
"use strict";

(() => {
  const cells = () => [...document.querySelectorAll("input.reading")];
  const draftKey = (cell) => `draft ${location.pathname} ${setup()} ${cell.closest("tr").dataset.pin}`;
  const setup = () => [...document.querySelectorAll("#setup [name=state], #setup [name=instrument], #setup [name=load]")].map((field) => field.value).join(" ");

  function move(cell, step) {
    const all = cells();
    const next = all[all.indexOf(cell) + step];
    if (next) {
      next.focus();
      next.select();
    } else if (step > 0) {
      toStrip();
    }
  }

  // Enter on what stands there already, where it is to be measured again: it read the same
  const toBeRepeated = (cell) => document.querySelector(`#advice [data-again="${cell.closest("tr").dataset.pin}"]`);
  function readsAgain(cell) {
    const again = toBeRepeated(cell);
    if (again && again.dataset.text === cell.value.trim()) again.click();
  }

  function toStrip() {
    document.querySelector("[data-press=n]")?.focus() ?? document.querySelector(".strip .switch")?.focus();
    if (document.activeElement?.matches("input.reading")) document.activeElement.blur();
  }

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    const cell = event.target.closest?.("input.reading");
    if (cell) {
      if (event.key === "Enter" || event.key === "ArrowDown") {
        event.preventDefault();
        if (event.key === "Enter") readsAgain(cell);
        move(cell, 1);
      } else if (event.key === "ArrowUp") {
        event.preventDefault();
        move(cell, -1);
      } else if (event.key === "Escape") {
        cell.blur();
        toStrip();
      }
      return;
    }
    if (event.target.matches("input, textarea, select") || document.querySelector("dialog[open]")) return;
    if (event.key === "m") return document.querySelector("[data-more]").click();
    if ((event.key === "Enter" && !event.target.matches("a, button, summary")) || event.key === "ArrowDown") {
      event.preventDefault();
      toFirstOpen();
    }
  });

  // the first wire that is asked for, else the first empty one
  function firstOpen() {
    return cells().find((cell) => cell.closest("tr").classList.contains("asked")) ?? cells().find((cell) => !cell.value) ?? cells()[0];
  }

  // what stands there already is replaced by what is typed
  function toFirstOpen() {
    const cell = firstOpen();
    cell?.focus();
    cell?.select();
  }

  // a block of readings pasted into a cell fills the wires below it, one a line
  document.addEventListener("paste", (event) => {
    const cell = event.target.closest?.("input.reading");
    const lines = event.clipboardData.getData("text").replace(/\r/g, "").replace(/\n+$/, "").split("\n");
    if (!cell || lines.length < 2) return;
    event.preventDefault();
    const below = cells().slice(cells().indexOf(cell));
    lines.slice(0, below.length).forEach((line, n) => {
      below[n].value = line.trim();
      sessionStorage.setItem(draftKey(below[n]), below[n].value);
      htmx.trigger(below[n], "change");
    });
    below[Math.min(lines.length, below.length) - 1].focus();
    if (lines.length > below.length) {
      const left = lines.slice(below.length).join(", ");
      document.dispatchEvent(new CustomEvent("hailstone:say", { detail: `No wire is left for: ${left}` }));
    }
  });

  // what was typed last, for every wire of the column that has no reading yet: all dark with everything off
  let last = null;
  document.addEventListener("focusin", (event) => {
    if (event.target.matches?.("input.reading")) last = event.target;
  });
  document.addEventListener("click", (event) => {
    if (!event.target.closest?.("[data-fill]")) return;
    const text = (last?.isConnected && last.value.trim()) || cells().map((cell) => cell.value.trim()).find(Boolean);
    const empty = cells().filter((cell) => !cell.value.trim());
    if (!text || !empty.length) {
      const why = text ? "Every wire has a reading here already." : "Type one reading first; this button copies it to the empty wires.";
      document.dispatchEvent(new CustomEvent("hailstone:say", { detail: why }));
      return;
    }
    for (const cell of empty) {
      cell.value = text;
      sessionStorage.setItem(draftKey(cell), text);
      htmx.trigger(cell, "change");
    }
  });

  document.addEventListener("click", (event) => {
    const contact = event.target.closest?.("[data-contact]");
    if (contact) document.getElementById(`r${contact.dataset.contact}`)?.focus();
  });
  document.addEventListener("focusin", (event) => {
    const row = event.target.closest?.("tr[data-pin]");
    if (row) show(row.dataset.pin);
  });
  document.addEventListener("click", (event) => {
    const row = event.target.closest?.("tr[data-pin]");
    if (row) show(row.dataset.pin);
  });

  let shown = null;
  function show(pin) {
    shown = pin;
    for (const section of document.querySelectorAll("[data-why]")) section.hidden = section.dataset.why !== pin;
    for (const row of document.querySelectorAll("tr[data-pin]")) row.classList.toggle("looked-at", row.dataset.pin === pin);
    for (const contact of document.querySelectorAll("[data-contact]")) contact.classList.toggle("looked-at", contact.dataset.contact === pin);
  }
  document.addEventListener("htmx:oobAfterSwap", (event) => {
    if (event.detail.target?.id === "why" && shown) show(shown);
  });
  document.addEventListener("htmx:afterSettle", () => {
    if (shown) show(shown);
    markAsked();
  });

  // advice follows a reading a moment later: who is quicker goes where the new advice leads, not where the old one did
  let isOld = false;
  let isWanted = false;
  document.addEventListener("htmx:beforeRequest", (event) => {
    if (event.detail.elt.matches?.("input.reading")) isOld = true;
  });
  document.addEventListener("htmx:oobAfterSwap", (event) => {
    if (event.detail.target?.id === "advice") isNew();
  });
  for (const failed of ["htmx:responseError", "htmx:sendError"]) document.addEventListener(failed, isNew);
  function isNew() {
    isOld = false;
    if (!isWanted) return;
    isWanted = false;
    document.querySelector("#advice [data-press=n]")?.click();
  }
  document.addEventListener("click", (event) => {
    if (!isOld || !event.target.closest?.("#advice [data-press=n]")) return;
    event.preventDefault();
    event.stopPropagation();
    isWanted = true;
  }, true);

  // the advice may stay in this column and ask for other wires
  function markAsked() {
    const asked = document.getElementById("advice").dataset.asked.split(" ");
    for (const row of document.querySelectorAll("tr[data-pin]")) row.classList.toggle("asked", asked.includes(row.dataset.pin));
  }
  document.addEventListener("click", (event) => {
    if (event.target.closest?.("[data-to-asked]")) toFirstOpen();
  });

  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-more]");
    if (!button) return;
    const more = document.getElementById("more");
    more.hidden = !more.hidden;
    button.setAttribute("aria-expanded", String(!more.hidden));
  });

  // another instrument, load or place opens another column
  document.addEventListener("change", (event) => {
    const field = event.target.closest("[data-nav]");
    if (field) {
      const address = new URL(location.href);
      address.searchParams.set("state", document.querySelector("#setup [name=state]").value);
      for (const name of ["instrument", "load"]) address.searchParams.set(name, document.querySelector(`#setup [name=${name}]`).value);
      location.assign(address);
    }
  });

  // drafts
  document.addEventListener("input", (event) => {
    const cell = event.target.closest?.("input.reading");
    if (cell) sessionStorage.setItem(draftKey(cell), cell.value);
  });
  // what the cell showed when it was typed into: so a reading that somebody else typed meanwhile is noticed
  document.addEventListener("htmx:configRequest", (event) => {
    const cell = event.detail.elt;
    if (!cell.matches?.("input.reading")) return;
    event.detail.parameters.seen = cell.dataset.seen ?? cell.defaultValue;
    if (toBeRepeated(cell)) event.detail.parameters.repeated = "1";
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    const cell = event.detail.elt;
    if (!cell.matches?.("input.reading")) return;
    if (event.detail.successful) cell.dataset.seen = event.detail.requestConfig.parameters.text.trim();
    markAsked();
    cell.setAttribute("aria-invalid", document.getElementById(`n${cell.closest("tr").dataset.pin}`)?.dataset.mark === "bad");
    if (event.detail.xhr.status && event.detail.xhr.status < 400) {
      if (sessionStorage.getItem(draftKey(cell)) === event.detail.requestConfig.parameters.text) sessionStorage.removeItem(draftKey(cell));
    } else {
      note(cell, "not saved yet");
    }
  });
  function note(cell, text) {
    const place = document.getElementById(`n${cell.closest("tr").dataset.pin}`);
    if (place && place.dataset.mark !== "bad") {
      place.dataset.mark = "bad";
      place.textContent = text;
    }
  }
  function restore() {
    for (const cell of cells()) {
      const draft = sessionStorage.getItem(draftKey(cell));
      if (draft !== null && draft !== cell.value) {
        cell.value = draft;
        htmx.trigger(cell, "change");
      }
    }
  }

  // the latest columns that fit stand beside the open one; a column cut in half would show a wrong number
  let showsAll = false;
  function fitColumns() {
    const wires = document.getElementById("wires");
    if (!wires || window.innerWidth <= 760) return;
    const rows = [...wires.querySelectorAll("tr")];
    const past = (row) => [...row.querySelectorAll(".c-past")];
    for (const row of rows) for (const column of past(row)) column.hidden = false;
    const heads = past(rows[0]);
    let over = wires.scrollWidth - wires.clientWidth;
    let earlier = 0;
    while (!showsAll && over > 0 && earlier < heads.length) over -= heads[earlier++].offsetWidth;
    for (const row of rows) past(row).slice(0, earlier).forEach((column) => { column.hidden = true; });
    const button = document.getElementById("earlier");
    button.hidden = !earlier && !showsAll;
    button.textContent = showsAll ? "Only the latest columns" : `Show ${earlier} earlier column${earlier > 1 ? "s" : ""}`;
  }
  document.addEventListener("click", (event) => {
    if (event.target.id !== "earlier") return;
    showsAll = !showsAll;
    fitColumns();
  });
  window.addEventListener("resize", fitColumns);

  function start() {
    restore();
    fitColumns();
    const cell = firstOpen();
    if (cell && location.search.includes("state=")) cell.focus({ preventScroll: window.innerWidth < 800 });
    if (cell) show(cell.closest("tr").dataset.pin);
  }
  if (document.readyState === "complete") start();
  else window.addEventListener("load", start);
})();
