/**
 * Minor unit exponents of ISO 4217. Only departures from two are listed; a code that is not
 * known to ISO 4217 must not reach this table (`isCurrency` says which are).
 */
const EXPONENTS: Readonly<Record<string, number>> = {
  BIF: 0,
  CLP: 0,
  DJF: 0,
  GNF: 0,
  ISK: 0,
  JPY: 0,
  KMF: 0,
  KRW: 0,
  PYG: 0,
  RWF: 0,
  UGX: 0,
  VND: 0,
  VUV: 0,
  XAF: 0,
  XOF: 0,
  XPF: 0,
  // No currency: quantities, which are kept in thousandths.
  XXX: 3,
  BHD: 3,
  IQD: 3,
  JOD: 3,
  KWD: 3,
  LYD: 3,
  OMR: 3,
  TND: 3,
};

/**
 * The currencies that can be a functional or a transaction currency here (ISO 4217 alphabetic
 * codes).
 */
export const CURRENCIES = [
  "AED",
  "AUD",
  "BGN",
  "BHD",
  "BRL",
  "CAD",
  "CHF",
  "CLP",
  "CNY",
  "CZK",
  "DKK",
  "EUR",
  "GBP",
  "HKD",
  "HUF",
  "IDR",
  "ILS",
  "INR",
  "ISK",
  "JOD",
  "JPY",
  "KRW",
  "KWD",
  "MAD",
  "MXN",
  "MYR",
  "NOK",
  "NZD",
  "OMR",
  "PHP",
  "PLN",
  "RON",
  "RSD",
  "SEK",
  "SGD",
  "THB",
  "TND",
  "TRY",
  "TWD",
  "UAH",
  "USD",
  "VND",
  "XAF",
  "XOF",
  "ZAR",
] as const;

const known: ReadonlySet<string> = new Set(CURRENCIES);

export const isCurrency = (code: string): boolean => known.has(code);

/** Number of decimals of a currency (ISO 4217): JPY 0, EUR 2, KWD 3. */
export const exponentOf = (currency: string): number => EXPONENTS[currency] ?? 2;
