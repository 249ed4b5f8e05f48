"use client";

import { useEffect } from "react";
import type { WithEarly } from "./noteEarly";

type Typed = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;
const isTick = (field: Typed): field is HTMLInputElement =>
  field instanceof HTMLInputElement && (field.type === "checkbox" || field.type === "radio");

/** Past what watches the field, so that what is set counts as typed. */
function write(field: Typed, value: string) {
  const kind = [HTMLInputElement, HTMLTextAreaElement, HTMLSelectElement].find(
    (k) => field instanceof k,
  )!;
  Object.getOwnPropertyDescriptor(kind.prototype, "value")!.set!.call(field, value);
}

function asSent(field: Typed): string {
  if (!(field instanceof HTMLSelectElement)) return field.defaultValue;
  const options = [...field.options];
  return (options.find((o) => o.defaultSelected) ?? options[0])?.value ?? "";
}

const tell = (field: Typed) =>
  field.dispatchEvent(
    new Event(field instanceof HTMLSelectElement ? "change" : "input", { bubbles: true }),
  );

/**
 * Tells the page what was typed in a field before the page listened: the field is put back to what
 * the server sent, the page takes hold of it, and what was typed is typed again.
 */
function typeAgain(field: Typed) {
  if (isTick(field)) {
    if (field.checked === field.defaultChecked) return;
    field.checked = field.defaultChecked;
    tell(field);
    field.click();
    return;
  }
  const typed = field.value;
  write(field, asSent(field));
  tell(field);
  write(field, typed);
  tell(field);
}

/**
 * People type as soon as they see a field, on a slow machine before the page listens. Without this
 * the field shows what they typed, and nothing else knows of it.
 */
export function EarlyTyping() {
  useEffect(() => {
    const { early } = window as WithEarly;
    if (early) {
      document.removeEventListener("input", early.note, true);
      for (const field of early.fields)
        if (
          field instanceof HTMLInputElement ||
          field instanceof HTMLTextAreaElement ||
          field instanceof HTMLSelectElement
        )
          if (field.isConnected && field.type !== "file") typeAgain(field);
      delete (window as WithEarly).early;
    }
    document.documentElement.dataset.listens = "yes";
  }, []);
  return null;
}
