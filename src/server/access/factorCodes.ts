import { randomBytes, randomInt } from "node:crypto";
import { Secret, TOTP } from "otpauth";
import { sql } from "drizzle-orm";
import { rows, sha256, type Db } from "../db";

const PERIOD = 30;
/** Steps of time before and after now whose code is taken: clocks of telephones differ. */
const WINDOW = 1;
const RECOVERY_CODES = 8;
/** Without letters that are taken for others. */
const LETTERS = "abcdefghjkmnpqrstuvwxyz23456789";

const totpOf = (secret: string, login = ""): TOTP =>
  new TOTP({
    issuer: "Yellow Anchor",
    label: login,
    algorithm: "SHA1",
    digits: 6,
    period: PERIOD,
    secret: Secret.fromBase32(secret),
  });

/** A new secret in base 32: 160 bits, as RFC 4226 recommends. */
export const newSecret = (): string =>
  new Secret({ buffer: Uint8Array.from(randomBytes(20)).buffer }).base32;

/** What an authenticator reads from the picture. */
export const addressOf = (secret: string, login: string): string =>
  totpOf(secret, login).toString();

export const newRecoveryCodes = (): string[] =>
  Array.from({ length: RECOVERY_CODES }, () => {
    const letters = Array.from({ length: 10 }, () => LETTERS[randomInt(LETTERS.length)]!);
    return `${letters.slice(0, 5).join("")}-${letters.slice(5).join("")}`;
  });

export const recoveryHash = (code: string): string =>
  sha256(code.toLowerCase().replace(/[^a-z0-9]/g, ""));

/**
 * Whether a code is good now (RFC 6238, one step of 30 seconds to either side), and if so uses it
 * up: no code is good twice, whoever asks at the same moment. Recovery codes are taken only for a
 * factor that is confirmed.
 */
export async function takeCode(
  db: Db,
  personId: number,
  given: string,
  now: Date,
): Promise<boolean> {
  const code = given.trim().slice(0, 40);
  const [factor] = await rows<{ secret: string; confirmed: boolean }>(
    db,
    sql`select secret, confirmed_at is not null as confirmed from second_factor
      where person_id = ${personId}`,
  );
  if (!factor) return false;
  const token = code.replace(/\s/g, "");
  if (/^\d{6}$/.test(token)) {
    const delta = totpOf(factor.secret).validate({
      token,
      window: WINDOW,
      timestamp: now.getTime(),
    });
    if (delta === null) return false;
    const step = Math.floor(now.getTime() / 1000 / PERIOD) + delta;
    const used = await rows(
      db,
      sql`update second_factor set last_step = ${step}
        where person_id = ${personId} and last_step < ${step} returning person_id`,
    );
    return used.length > 0;
  }
  if (!factor.confirmed) return false;
  const used = await rows(
    db,
    sql`update recovery_code set used_at = ${now.toISOString()}
      where person_id = ${personId} and hash = ${recoveryHash(code)} and used_at is null
      returning person_id`,
  );
  return used.length > 0;
}
