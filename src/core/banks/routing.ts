/**
 * How banks are numbered at home where accounts have no IBAN: the code of the clearing system
 * (external code list of ISO 20022, ClearingSystemIdentification) and the form of its members'
 * numbers.
 */
interface Routing {
  system: string;
  form: RegExp;
  words: string;
}
const ROUTING: Readonly<Record<string, Routing>> = {
  AU: { system: "AUBSB", form: /^\d{6}$/, words: "six figures" },
  CA: { system: "CACPA", form: /^\d{9}$/, words: "nine figures" },
  CN: { system: "CNAPS", form: /^\d{12}$/, words: "twelve figures" },
  GB: { system: "GBDSC", form: /^\d{6}$/, words: "six figures" },
  HK: { system: "HKNCC", form: /^\d{3}$/, words: "three figures" },
  IN: {
    system: "INFSC",
    form: /^[A-Z]{4}0[A-Z0-9]{6}$/,
    words: "four letters, a nought, six more",
  },
  JP: { system: "JPZGN", form: /^\d{7}$/, words: "seven figures" },
  KR: { system: "KRBOK", form: /^\d{7}$/, words: "seven figures" },
  NZ: { system: "NZNCC", form: /^\d{6}$/, words: "six figures" },
  SG: { system: "SGIBG", form: /^\d{7}$/, words: "seven figures" },
  TW: { system: "TWNCC", form: /^\d{7}$/, words: "seven figures" },
  US: { system: "USABA", form: /^\d{9}$/, words: "nine figures" },
  ZA: { system: "ZANCC", form: /^\d{6}$/, words: "six figures" },
};

/** The clearing system of a country whose banks are reached by routing codes. */
export const routingOf = (country: string): Routing | undefined => ROUTING[country];

/**
 * What is wrong with a bank's routing code; null where nothing is. In the United States its last
 * figure is a check digit (weights 3, 7, 1 come to a multiple of ten).
 */
export function routingProblem(routing: string, country: string): string | null {
  const system = ROUTING[country];
  if (!system) return `No routing codes are known of ${country || "this country"}: give the BIC`;
  if (!system.form.test(routing)) return `A routing code of ${country} has ${system.words}`;
  const sum = [...routing].reduce((t, c, i) => t + Number(c) * [3, 7, 1][i % 3]!, 0);
  return country === "US" && sum % 10 !== 0
    ? `“${routing}” is no routing code: its check digit is wrong`
    : null;
}
