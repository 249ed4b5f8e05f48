import { fail, ok, type Result } from "../shared";

/**
 * Checks a new password (OWASP ASVS 2.1: at least 12 characters, no rules on which; at most 128).
 * Errors: PASSWORD_LENGTH, PASSWORD_NAME where it holds the sign-in name.
 */
export function checkPassword(password: string, login: string): Result<string> {
  const length = [...password].length;
  if (length < 12 || length > 128) return fail({ code: "PASSWORD_LENGTH", field: "password" });
  if (password.toLowerCase().includes(login.toLowerCase()))
    return fail({ code: "PASSWORD_NAME", field: "password" });
  return ok(password);
}

/**
 * Failed attempts in a row after which a sign-in name is locked, and for how many minutes (OWASP
 * ASVS 2.2.1).
 */
export const LOCK_AFTER = 8;
export const LOCK_MINUTES = 10;
