import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { DraftLine } from "@/core/ledger";
import { part } from "@/core/openItems";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, companiesOf, lockChains } from "../access";
import { postDrafts } from "../ledger";
import { settleTogether } from "../openItems";

/**
 * Sets what we owe a partner against what it owes us, where it is both supplier and customer: the
 * oldest first, in one currency, by a journal that settles both sides.
 */
export const netPartner = defineUseCase({
  name: "netPartner",
  kind: "write",
  rights: ["post.payables"],
  what: "net what is owed both ways",
  company: (i) => i.company,
  locks: ({ tx }, input) => companiesOf(tx, [], { company: input.company }),
  schema: object({
    company: string().required(),
    partner: string().required(),
    currency: string().required(),
    date: string().required("The date is missing"),
  }),
  run: async (context, input): Promise<Result<{ journal: string; amount: Minor }>> => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!context.may("post.receivables", company.code))
      return fail({ code: "FORBIDDEN", what: `settle what customers of ${company.name} owe` });
    await lockChains(tx, [company.code]);
    const items = await rows<{
      id: bigint;
      area: string;
      account: string;
      left: bigint;
      leftFunctional: bigint;
      reference: string;
      hold: string;
    }>(
      tx,
      sql`select i.id, i.area, a.number as account, i.left_amount as "left",
        i.left_functional as "leftFunctional", i.reference, i.hold from open_item i
        join account a on a.id = i.account_id
          where i.company_id = ${company.id} and i.partner = ${input.partner}
            and i.currency = ${input.currency} and i.left_amount <> 0 and i.hold = ''
            and i.date <= ${input.date} and ((i.area = 'payables' and i.left_amount < 0)
            or (i.area = 'receivables' and i.left_amount > 0)) order by i.due_date,
            i.id for update of i`,
    );
    const side = (area: string) => items.filter((i) => i.area === area);
    const sum = (list: typeof items): bigint =>
      list.reduce((t, i) => t + (i.left < 0n ? -i.left : i.left), 0n);
    const amount = [sum(side("payables")), sum(side("receivables"))].reduce((a, b) =>
      a < b ? a : b,
    );
    if (amount === 0n)
      return fail({ code: "INVALID", what: "Nothing is owed both ways in this currency" });
    const takes = ["payables", "receivables"].flatMap((area) => {
      let open = amount;
      return side(area).flatMap((i) => {
        const size = i.left < 0n ? -i.left : i.left;
        const taken = size < open ? size : open;
        open -= taken;
        if (taken === 0n) return [];
        const { functional } = part(
          {
            id: Number(i.id),
            account: i.account,
            partner: input.partner,
            currency: input.currency,
            left: minor(i.left),
            leftFunctional: minor(i.leftFunctional),
          },
          minor(taken),
        );
        return [
          {
            area,
            account: i.account,
            item: Number(i.id),
            amount: minor(i.left < 0n ? -taken : taken),
            functional,
          },
        ];
      });
    });
    const foreign = input.currency !== company.currency;
    const lines: DraftLine[] = [...new Set(takes.map((t) => `${t.area}|${t.account}`))].map(
      (key) => {
        const own = takes.filter((t) => `${t.area}|${t.account}` === key);
        const [functional, inCurrency] = [
          own.reduce((t, x) => t + x.functional, 0n),
          own.reduce((t, x) => t + x.amount, 0n),
        ];
        const size = (n: bigint): Minor => minor(n < 0n ? -n : n);
        return {
          account: own[0]!.account,
          dimensions: {},
          description: "Netted",
          side: inCurrency < 0n ? "debit" : "credit",
          amount: size(functional),
          ...(foreign ? { foreignAmount: size(inCurrency) } : {}),
          partner: input.partner,
          dueDate: input.date,
          item: { kind: "payment", reference: "Netting" },
        };
      },
    );
    const rest = lines.reduce((t, l) => t + (l.side === "debit" ? l.amount : -l.amount), 0n);
    const account = rest > 0n ? masters.purposes.exchangeGain : masters.purposes.exchangeLoss;
    if (rest !== 0n && !account)
      return fail({ code: "PURPOSE_MISSING", purpose: "exchange differences" });
    if (rest !== 0n)
      lines.push({
        account: account!,
        dimensions: {},
        description: "Exchange difference of settled items",
        side: rest > 0n ? "credit" : "debit",
        amount: minor(rest > 0n ? rest : -rest),
        foreignAmount: minor(0n),
      });
    const posted = await postDrafts(context, [
      {
        company: company.code,
        type: "payment",
        book: null,
        date: input.date,
        ...(foreign ? { currency: input.currency } : {}),
        description: `Netting with ${input.partner}`,
        reference: "Netting",
        lines,
      },
    ]);
    if (!posted.ok) return posted;
    const journal = posted.value[0]!;
    const made = await rows<{ id: bigint; area: string; left: bigint; leftFunctional: bigint }>(
      tx,
      sql`select id, area, left_amount as "left", left_functional as "leftFunctional" from open_item
        where journal_id = any(${arrayOf([journal.id])}::bigint[])`,
    );
    // Each side settles by itself: its items with what the journal left on its own account.
    await settleTogether(context, "netting", [
      {
        companyId: company.id,
        date: input.date,
        journalId: journal.id,
        lines: [
          ...takes.map(({ item, amount: a, functional }) => ({ item, amount: a, functional })),
          ...made.map((m) => ({
            item: Number(m.id),
            amount: minor(m.left),
            functional: minor(m.leftFunctional),
          })),
        ],
      },
    ]);
    await context.audit({
      action: "netted",
      kind: "open items",
      recordId: journal.id,
      label: journal.number,
      companyId: company.id,
      after: { partner: input.partner, amount: String(amount), currency: input.currency },
    });
    return ok({ journal: journal.number, amount: minor(amount) });
  },
});
