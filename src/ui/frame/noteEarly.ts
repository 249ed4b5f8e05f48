export type WithEarly = Window & {
  early?: { fields: Set<EventTarget | null>; note: (e: Event) => void };
};

/** Remembers which fields are written in. Runs in the page by itself, before anything else does. */
function noteEarly() {
  const fields = new Set<EventTarget | null>();
  const note = (e: Event) => void fields.add(e.target);
  (window as WithEarly).early = { fields, note };
  document.addEventListener("input", note, true);
}

/** As a script of its own; what comes of it is read by `EarlyTyping`. */
export const NOTE_EARLY = `(${noteEarly.toString()})()`;
