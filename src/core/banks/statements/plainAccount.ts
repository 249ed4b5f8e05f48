/** An account's number without what is written for the eye: spaces, dots, dashes, small letters. */
export const plainAccount = (text: string): string => text.replace(/[\s.-]/g, "").toUpperCase();

/** Whether a reference is one: banks write NOTPROVIDED or NONREF where they have none. */
export const given = (text: string | undefined): string => {
  const plain = (text ?? "").trim();
  return /^(NOT\s?PROVIDED|NON\s?REF|NONE|\/*)$/i.test(plain) ? "" : plain;
};
