import { object, string } from "yup";
import {
  accountLetter,
  LETTER_KINDS,
  LETTER_LANGUAGES,
  letterText,
  orderLetter,
  remittanceLetter,
  saleLetter,
} from "@/core/letters";
import { addDays, fail, minor, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { drawLetter } from "./drawLetter";
import { senderOf } from "./senderOf";

/** Whom samples go to: nobody. */
const SAMPLE = {
  code: "S-000",
  name: "Sample Chandlers",
  street: "12 Example Wharf",
  postcode: "2000",
  city: "Merrowmouth",
  country: "IE",
};

/** A letter of a company as it looks now, with a made-up order or payment. */
export const sampleLetter = defineUseCase({
  name: "sampleLetter",
  kind: "read",
  rights: ["read.setup", "setup.organisation", "setup.rules"],
  what: "see how letters look",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    kind: string().oneOf(LETTER_KINDS).default("order"),
    language: string().oneOf(LETTER_LANGUAGES).default("en"),
  }),
  run: async ({ tx, masters, today }, input): Promise<Result<{ file: Uint8Array }>> => {
    const { kind, language } = input;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const sender = await senderOf(tx, company.id, language);
    const common = {
      language,
      number: `${company.code}-00000`,
      date: today,
      currency: company.currency,
      company: sender.company,
      contact: sender.contact,
      opening: letterText(sender.layout, kind, language, "opening"),
      closing: letterText(sender.layout, kind, language, "closing"),
    };
    const letter =
      kind === "order"
        ? orderLetter({
            ...common,
            supplier: SAMPLE,
            terms: "30 days net",
            deliverTo: sender.deliverTo,
            lines: [
              line(1, "Mooring rope, 24 mm, polyester", "200", "m", "6.40", 128_000n, today),
              line(2, "Fender, cylindrical, 60 cm", "12", "pcs", "85.00", 102_000n, today),
            ],
            net: minor(230_000n),
            taxes: [{ name: "VAT", percent: "23", tax: minor(52_900n) }],
            approvedBy: [],
          })
        : kind === "sale"
          ? saleLetter({
              ...common,
              kind: "invoice",
              prepayment: false,
              customer: { ...SAMPLE, taxNumber: "" },
              deliveredOn: "",
              deliveredTo: null,
              reference: "PO 4711",
              corrects: "",
              terms: "30 days net",
              lines: [
                sold("Berth at the outer quay", "31", "days", "42.00", 130_200n),
                sold("Fresh water", "12.5", "m³", "3.20", 4_000n),
              ],
              discount: { percent: "0", amount: minor(0n) },
              gross: false,
              net: minor(134_200n),
              taxes: [
                {
                  name: "VAT",
                  percent: "23",
                  base: minor(134_200n),
                  tax: minor(30_866n),
                  reverse: false,
                },
              ],
              total: minor(165_066n),
              reasons: [],
              instalments: [{ due: today, amount: minor(165_066n), discounts: [] }],
              bank: { iban: "", bic: "", reference: "", square: "" },
            })
          : kind === "remittance"
            ? remittanceLetter({
                ...common,
                payee: SAMPLE,
                method: "transfer",
                paidTo: "",
                items: [
                  {
                    reference: "SC-1204",
                    date: today,
                    taken: minor(250_000n),
                    discount: minor(5_000n),
                  },
                  { reference: "SC-1219", date: today, taken: minor(48_000n), discount: minor(0n) },
                ],
                amount: minor(293_000n),
              })
            : accountLetter({
                ...common,
                kind,
                level: kind === "reminder" ? 1 : 0,
                until: kind === "statement" ? "" : addDays(today, 7),
                customer: SAMPLE,
                lines: [
                  owed("SC-1204", addDays(today, -52), company.currency, 165_066n),
                  owed("SC-1219", addDays(today, -41), company.currency, 48_000n),
                ],
                mandate:
                  kind === "debit"
                    ? { reference: "M-0417", creditorId: "", account: "DE02 … 5030" }
                    : null,
                fee: minor(0n),
                interest: minor(0n),
                bank: { iban: "", bic: "", reference: "", square: "" },
              });
    return ok({ file: await drawLetter(letter, sender) });
  },
});

const line = (
  no: number,
  description: string,
  quantity: string,
  unit: string,
  price: string,
  net: bigint,
  date: string,
) => ({
  no,
  description,
  quantity,
  unit,
  price,
  net: minor(net),
  deliveries: [{ date, quantity }],
});

const owed = (reference: string, date: string, currency: string, amount: bigint) => ({
  reference,
  date,
  due: addDays(date, 30),
  currency,
  invoiced: minor(amount),
  amount: minor(amount),
});

const sold = (
  description: string,
  quantity: string,
  unit: string,
  price: string,
  value: bigint,
) => ({
  description,
  quantity,
  unit,
  price,
  discount: "0",
  value: minor(value),
});
