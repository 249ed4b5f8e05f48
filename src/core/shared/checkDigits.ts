/**
 * Whether letters and figures, letters read as 10 to 35, leave one when divided by 97 (ISO 7064
 * MOD 97-10): the check of IBAN, of creditor references and of legal entity identifiers.
 */
export const passesMod97 = (text: string): boolean =>
  [...[...text].map((c) => parseInt(c, 36)).join("")].reduce(
    (rest, d) => (rest * 10 + Number(d)) % 97,
    0,
  ) === 1;

/** Whether a text is a legal entity identifier (ISO 17442): 18 letters and figures, two check digits. */
export const isLei = (text: string): boolean =>
  /^[A-Z0-9]{18}\d{2}$/.test(text) && passesMod97(text);

/**
 * Whether a text identifies a creditor of direct debits (EPC 262-08): country, two check digits,
 * three letters or figures of the creditor's own business, up to 28 that the country gives. The
 * check digits are over what the country gives; the business code is not in them.
 *
 * @example isCreditorId("DE98ZZZ09999999999") // true
 */
export const isCreditorId = (text: string): boolean =>
  /^[A-Z]{2}\d{2}[A-Z0-9]{4,31}$/.test(text) && passesMod97(text.slice(7) + text.slice(0, 4));
