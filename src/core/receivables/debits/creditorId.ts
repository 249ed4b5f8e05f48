import { string } from "yup";
import { passesMod97 } from "../../shared";

/**
 * Whether a text identifies a creditor of direct debits (EPC 262-08): country, two check digits,
 * three letters or figures of the creditor's own business, up to 28 that the country gives. The
 * check digits are ISO 7064 MOD 97-10 over what the country gives; the business code is not in them.
 *
 * @example isCreditorId("DE98ZZZ09999999999") // true
 */
export const isCreditorId = (text: string): boolean =>
  /^[A-Z]{2}\d{2}[A-Z0-9]{4,31}$/.test(text) && passesMod97(text.slice(7) + text.slice(0, 4));

/** A creditor identifier as people write it; "" where there is none. */
export const creditorIdField = () =>
  string()
    .transform((v: unknown) => (typeof v === "string" ? v.replace(/\s/g, "").toUpperCase() : v))
    .default("")
    .test(
      "creditor-id",
      "Its check digits do not fit: a creditor identifier is like DE98 ZZZ0 9999 9999 99",
      (v) => v === "" || isCreditorId(v),
    );
