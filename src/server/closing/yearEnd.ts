import { sql } from "drizzle-orm";
import { boolean, object, string } from "yup";
import { proposeYearEnd } from "@/core/ledger";
import { dateText, fail, ok } from "@/core/shared";
import { rows } from "../db";
import { loadPeriods, loadYears } from "../organisation";
import { defineRunKind } from "../runs";

const schema = object({
  company: string().required(),
  year: string().required(),
  book: string().required(),
  retainedEarnings: string().default("3210"),
  byDimension: boolean().default(false),
});

export const yearEndRun = defineRunKind({
  id: "year-end",
  right: "period.ledger",
  schema,
  async propose({ tx, masters, today }, params) {
    const company = masters.companyByCode.get(params.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
    const book = masters.bookByCode.get(params.book);
    if (!book) return fail({ code: "BOOK_UNKNOWN", book: params.book, field: "book" });
    const year = (await loadYears(tx, [company.id])).find((y) => y.name === params.year);
    if (!year) return fail({ code: "NOT_FOUND", what: `year ${params.year}`, field: "year" });
    const [standing] = await rows<{ number: string }>(
      tx,
      sql`select d.number from year_end e join document d on d.id = e.run_id
        where e.company_id = ${company.id} and e.year_id = ${year.id} and e.book_id = ${book.id}`,
    );
    if (standing)
      return fail({
        code: "YEAR_END_POSTED",
        year: year.name,
        book: book.code,
        run: standing.number,
      });
    const balances = await rows<{ accountId: number; coding: string; net: bigint }>(
      tx,
      sql`select b.account_id as "accountId", k.key as coding,
        sum(b.debit - b.credit)::bigint as net from coding_balance b
        join coding k on k.id = b.coding_id join account a on a.id = b.account_id
          where b.company_id = ${company.id} and b.year_id = ${year.id} and b.book_id in (0,
            ${book.id}) and b.period_no > 0 and a.type in ('income', 'expense') group by 1, 2
            having sum(b.debit - b.credit) <> 0`,
    );
    const periods = await loadPeriods(tx, [company.id], { yearId: year.id });
    const result = proposeYearEnd(
      {
        company,
        year,
        periods,
        book: book.code,
        balances,
        retainedEarnings: params.retainedEarnings,
        byDimension: params.byDimension,
      },
      masters,
    );
    if (!result.ok) return result;
    const { draft, result: profit, period } = result.value;
    const [prior] = await rows<{ name: string }>(
      tx,
      sql`select y.name from fiscal_year y
        where y.company_id = ${company.id} and y.start_date < ${year.start} and not exists (select 1
        from year_end e where e.year_id = y.id and e.book_id = ${book.id})
          and exists (select 1 from account_balance b where b.year_id = y.id and b.period_no > 0
            and b.book_id in (0, ${book.id})) order by y.start_date limit 1`,
    );
    const byAccount = new Map<string, bigint>();
    for (const b of balances) {
      const number = masters.accountById.get(b.accountId)!.number;
      byAccount.set(number, (byAccount.get(number) ?? 0n) + b.net);
    }
    return ok({
      company: company.code,
      yearId: year.id,
      date: year.end,
      title: `Year end ${year.name}, ${company.name}, ${book.code}`,
      items: [...byAccount]
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([number, net]) => {
          const account = masters.accountByNumber.get(number)!;
          const codings = balances.filter((b) => b.accountId === account.id).length;
          return {
            key: `${company.code}|${year.name}|${book.code}|${number}`,
            label: `${number} ${account.name}`,
            group: account.type === "income" ? "Income" : "Expense",
            amount: -net,
            why: `${codings} ${codings === 1 ? "coding" : "codings"} to empty`,
            explanation: {
              title: `${number} ${account.name}`,
              steps: [
                { label: `Turnover of ${year.name}, all periods`, amount: -net },
                { label: "Already carried", amount: 0n },
                { label: `To ${params.retainedEarnings}`, amount: -net, total: true },
              ],
            },
          };
        }),
      drafts: [draft],
      warnings: [
        ...(today <= year.end
          ? [
              `Year ${year.name} ends on ${dateText(year.end)}: what is posted in it from today on is carried by companion journals.`,
            ]
          : []),
        ...(prior
          ? [
              `Year ${prior.name} has no year end in ${book.code} yet; close the earlier year first unless you mean to.`,
            ]
          : []),
        ...(period.adjustment
          ? []
          : ["The year has no adjustment period; the closing journal lies in its last period."]),
      ],
      figures: [{ label: "Result carried", amount: profit }],
    });
  },
  async posted({ tx, masters }, { id, params }) {
    const company = masters.companyByCode.get(params.company)!;
    const year = (await loadYears(tx, [company.id])).find((y) => y.name === params.year)!;
    await tx.execute(
      sql`insert into year_end (company_id, year_id, book_id, run_id, retained_earnings,
        by_dimension) values (${company.id}, ${year.id}, ${masters.bookByCode.get(params.book)!.id},
        ${id}, ${params.retainedEarnings}, ${params.byDimension})`,
    );
    return ok({});
  },
  async reversing({ tx }, { id }) {
    // First, so that the reversal is not itself carried on.
    await tx.execute(sql`delete from year_end where run_id = ${id}`);
    return ok({});
  },
});
