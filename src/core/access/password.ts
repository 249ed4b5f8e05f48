import { fail, ok, type Result } from "../shared";
import { COMMON_WORDS } from "./commonPasswords";

/** Fewer different characters than this are a repetition, however long it is. */
const LEAST_DIFFERENT = 6;
const ROWS = ["01234567890123456789", "abcdefghijklmnopqrstuvwxyz", "qwertyuiop", "asdfghjkl"];

/**
 * Whether a password is one of those that are tried first (OWASP ASVS 2.1.7): few characters again
 * and again, a row of the keyboard or of figures, or nothing but common words, figures and marks.
 */
export function isCommonPassword(password: string): boolean {
  const plain = password.toLowerCase().replace(/[^a-z0-9]/g, "");
  if (new Set(plain).size < LEAST_DIFFERENT && new Set(password).size < LEAST_DIFFERENT)
    return true;
  const rows = ROWS.flatMap((r) => [r, [...r].reverse().join("")]);
  if (plain !== "" && rows.some((r) => r.includes(plain) || r.repeat(3).includes(plain)))
    return true;
  let rest = plain
    .replace(/4/g, "a")
    .replace(/0/g, "o")
    .replace(/1/g, "i")
    .replace(/3/g, "e")
    .replace(/5/g, "s");
  const letters = plain.replace(/[0-9]/g, "");
  const words = [...COMMON_WORDS].sort((a, b) => b.length - a.length);
  const left = (text: string): string =>
    words.reduce((t, word) => t.replaceAll(word, " "), text).replace(/ /g, "");
  rest = left(rest).replace(/[0-9]/g, "");
  return Math.min(left(letters).length, rest.length) < 3 && letters.length > 0;
}

/**
 * Checks a new password (OWASP ASVS 2.1: at least 12 characters, no rules on which; at most 128).
 * Errors: PASSWORD_LENGTH, PASSWORD_NAME where it holds the sign-in name, PASSWORD_COMMON.
 */
export function checkPassword(password: string, login: string): Result<string> {
  const length = [...password].length;
  if (length < 12 || length > 128) return fail({ code: "PASSWORD_LENGTH", field: "password" });
  if (password.toLowerCase().includes(login.toLowerCase()))
    return fail({ code: "PASSWORD_NAME", field: "password" });
  if (isCommonPassword(password)) return fail({ code: "PASSWORD_COMMON", field: "password" });
  return ok(password);
}

/**
 * Failed attempts in a row after which a sign-in name is locked, and for how many minutes (OWASP
 * ASVS 2.2.1).
 */
export const LOCK_AFTER = 8;
export const LOCK_MINUTES = 10;

/** Minutes without a request after which a sign-in from a browser ends (OWASP ASVS 3.3.2). */
export const IDLE_MINUTES = 60;
