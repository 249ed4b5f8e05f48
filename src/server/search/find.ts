import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { documentKindName, documentPage } from "@/core/documents";
import { amountText, dateText, ok, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import { defineUseCase, type Context } from "../access";

export interface Found {
  kind: string;
  label: string;
  note: string;
  href: string;
  /** What a conversation hangs on: a document, or a customer of a company. */
  about?: { document: number } | { company: string; partner: string };
}

/** Accounts and partners by number or name, documents of every visible company by number, text or amount. */
export const find = defineUseCase({
  name: "find",
  kind: "read",
  rights: "signed-in",
  what: "find",
  of: "checked",
  schema: object({
    text: string().required().min(1).max(100),
    /** The text with its figures in the standard way of writing. */
    figure: string().max(200),
    company: string(),
  }),
  run: async ({ tx, masters, may }, input): Promise<Result<Found[]>> => {
    const text = input.text.trim().toLowerCase();
    const accounts =
      may("read.ledger") || may("read.setup")
        ? masters.accounts
            .filter((a) => a.number.startsWith(text) || a.name.toLowerCase().includes(text))
            .slice(0, 6)
            .map((a): Found => ({
              kind: "Account",
              label: `${a.number} ${a.name}`,
              note: a.type,
              href: `/ledger/accounts/${a.number}`,
            }))
        : [];
    const visible = masters.companies.filter((c) => may("read.ledger", c.code));
    // Amounts are kept as plain decimals, and asked for with or without thousands.
    const figure = (input.figure ?? text).trim();
    const plain = /^[\d.,' ]+$/.test(figure) ? figure.replace(/[,' ]/g, "") : text;
    const like = (t: string) => `%${t.replace(/[%_\\]/g, "\\$&")}%`;
    const documents =
      visible.length === 0
        ? []
        : await rows<{
            id: bigint;
            kind: string;
            number: string | null;
            title: string;
            company: string;
            date: string | null;
            amount: bigint | null;
            currency: string | null;
            status: string;
          }>(
            tx,
            sql`select d.id, d.kind, d.number, d.title, c.code as company, d.date, d.amount,
              d.currency, d.status from document d join company c on c.id = d.company_id
          where (d.search like ${like(text)} or d.search like ${like(plain)}) and c.code in (${sql.join(
            visible.map((c) => sql`${c.code}`),
            sql`, `,
          )})
          order by (c.code = ${input.company ?? ""}) desc, (lower(d.number) = ${text}) desc,
            d.date desc nulls last, d.id desc limit 12`,
          );
    return ok([
      ...accounts,
      ...(await partnersLike(tx, may, input.company, like(text))),
      ...documents.map((d): Found => ({
        kind: d.kind === "journal" && d.status === "draft" ? "Draft" : documentKindName(d.kind),
        label: [d.number ?? (d.kind === "journal" ? "Draft" : ""), d.title]
          .filter(Boolean)
          .join(" · "),
        note: [
          d.company,
          d.date ? dateText(d.date) : "",
          d.amount !== null && d.currency ? amountText(d.amount, d.currency) : "",
        ]
          .filter(Boolean)
          .join(" · "),
        href: `${documentPage(d.kind, d.id)}?company=${d.company}`,
        about: { document: Number(d.id) },
      })),
    ]);
  },
});

/** Customers and suppliers by number or name, for whoever works with them in the company in view. */
async function partnersLike(
  tx: Db,
  may: Context["may"],
  company: string | undefined,
  like: string,
): Promise<Found[]> {
  const sells = may("read.receivables", company);
  const buys = may("read.payables", company);
  if (company === undefined || !(sells || buys)) return [];
  const found = await rows<{ code: string; name: string; city: string; customer: boolean }>(
    tx,
    sql`select code, name, city, customer and ${sells} as customer from partner
      where (lower(code) like ${like} or lower(name) like ${like})
        and ((customer and ${sells}) or (supplier and ${buys})) order by name, code limit 6`,
  );
  return found.map(({ code, name, city, customer }) => ({
    kind: customer ? "Customer" : "Supplier",
    label: `${code} ${name}`,
    note: city,
    href: `/${customer ? "receivables/customers" : "payables/suppliers"}/${encodeURIComponent(code)}`,
    ...(customer ? { about: { company, partner: code } } : {}),
  }));
}
