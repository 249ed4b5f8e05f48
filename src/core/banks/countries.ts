/**
 * Countries and territories whose accounts SEPA reaches (EPC 409-09), by the first two letters of
 * their IBAN.
 */
const SEPA: ReadonlySet<string> = new Set(
  (
    "AD AL AT BE BG CH CY CZ DE DK EE ES FI FR GB GI GR HR HU IE IS IT LI LT LU LV MC MD ME MK MT " +
    "NL NO PL PT RO RS SE SI SK SM VA"
  ).split(" "),
);
export const isSepaCountry = (country: string): boolean => SEPA.has(country);

/** Territories that bank codes name, while their accounts carry the IBAN of another country. */
const IBAN_OF: Readonly<Record<string, string>> = {
  ...Object.fromEntries(
    "GF GP MQ RE PM YT BL MF NC PF WF TF".split(" ").map((territory) => [territory, "FR"]),
  ),
  GG: "GB",
  IM: "GB",
  JE: "GB",
  AX: "FI",
  IC: "ES",
  EA: "ES",
};

/** Whether a bank of one country can keep an account with the IBAN of another: its own, or its state's. */
export const banksIn = (bankCountry: string, ibanCountry: string): boolean =>
  bankCountry === ibanCountry || IBAN_OF[bankCountry] === ibanCountry;
