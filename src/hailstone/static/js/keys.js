// A key pressed while a page is still coming in waits until its scripts have run; it is not lost.
// Stands before everything else in the head, without `defer`, so that it hears from the first moment.
"use strict";

(() => {
  const held = [];
  const hold = (event) => {
    if (!event.isTrusted || event.target.matches?.("input, textarea, select")) return;
    event.stopImmediatePropagation();
    held.push([event.target, { key: event.key, ctrlKey: event.ctrlKey, altKey: event.altKey, metaKey: event.metaKey, bubbles: true, cancelable: true }]);
  };
  document.addEventListener("keydown", hold, true);
  document.addEventListener("DOMContentLoaded", () => {
    document.removeEventListener("keydown", hold, true);
    for (const [target, key] of held) (target.isConnected ? target : document.body).dispatchEvent(new KeyboardEvent("keydown", key));
  });
})();
