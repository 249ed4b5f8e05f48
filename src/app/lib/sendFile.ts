import { SIGNED_OUT } from "@/ui/frame/SignInAgain";
import type { Answer } from "./answer";

/** What can be done with a file from outside; the rest is in `app/files`. */
export type FileWork =
  | "cells"
  | "e-invoice"
  | "invoices"
  | "chart"
  | "values"
  | "opening"
  | "rates"
  | "partners"
  | "contacts"
  | "mandates"
  | "banks"
  | "card-payments"
  | "receipts"
  | "sales"
  | "assets";

const refused = (message: string): { ok: false; message: string; problems: never[] } => ({
  ok: false,
  message,
  problems: [],
});

/** Sends a file for one of these works; whatever comes back, it is an answer with a sentence. */
export async function sendFile<T>(
  work: FileWork,
  file: File,
  more: Readonly<Record<string, string>> = {},
): Promise<Answer<T>> {
  const query = new URLSearchParams({ work, name: file.name.slice(-200), ...more });
  const response = await fetch(`/files?${query}`, { method: "POST", body: file }).catch(() => null);
  if (response?.status === 401) {
    window.dispatchEvent(new Event(SIGNED_OUT));
    return refused("The session has ended. Sign in and send the file again.");
  }
  const answer = response?.ok ? ((await response.json().catch(() => null)) as Answer<T>) : null;
  return answer ?? refused("The server did not answer. Try again.");
}

/** The same for a table that is checked first and taken in then. */
export const sendTable =
  (work: FileWork, more: Readonly<Record<string, string>> = {}) =>
  <T>(file: File, how: { take: boolean; confirmed: boolean }): Promise<Answer<T>> =>
    sendFile<T>(work, file, {
      ...more,
      take: how.take ? "1" : "",
      confirmed: how.confirmed ? "1" : "",
    });
