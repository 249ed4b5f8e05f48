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
