import { sql } from "drizzle-orm";
import { fail, minor, ok } from "@/core/shared";
import { rows } from "../../db";
import { defineRunInParts } from "../../runs";
import {
  chargesWithoutAccount,
  invoiceCharges,
  readChargeAccounts,
  takeBackCharges,
} from "./charges";
import { letterEmail } from "./letterEmail";
import { letterItems } from "./letterItems";
import { customersAskedFor, itemsAskedFor, lettersSchema, placeOfLetters } from "./letterPlace";
import { standOfLetters } from "./standOfLetters";

/** So many customers are computed at once. */
const AT_ONCE = 1000;

/**
 * Letters to customers about their accounts: reminders at the next level of each item, or statements
 * of account. Posting keeps levels and days, and posts fees and interest where their group says so;
 * the letters wait to be sent, and until then all of it can be taken back.
 */
export const lettersRun = defineRunInParts({
  id: "letters",
  right: "post.receivables",
  schema: lettersSchema,
  async reversing(context, { id }) {
    const [sent] = await rows<{ count: number }>(
      context.tx,
      sql`select count(*)::int as count from customer_letter
        where run_id = ${id} and sent_at is not null`,
    );
    if (sent!.count > 0)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what: `${sent!.count === 1 ? "One letter has" : `${sent!.count} letters have`} gone out already`,
      });
    return takeBackCharges(context, id);
  },
  parts: {
    async begin(context, params) {
      const place = await placeOfLetters(context, params);
      if (!place.ok) return place;
      const { company, yearId, on } = place.value;
      const [found] = await rows<{ size: number }>(
        context.tx,
        sql`select count(*)::int as size from ${itemsAskedFor(place.value, params)}`,
      );
      if (found!.size === 0)
        return fail({
          code: "NOT_FOUND",
          what: `${params.what === "reminder" ? "overdue" : "open"} item of these customers`,
        });
      const name = params.what === "reminder" ? "Reminders" : "Statements of account";
      return ok({
        company: company.code,
        yearId,
        date: on,
        title: `${name} of ${company.name}`,
        size: found!.size,
      });
    },
    async stand(context, params) {
      const place = await placeOfLetters(context, params);
      return place.ok ? standOfLetters(context.tx, place.value.company.id) : "";
    },
    async part(context, params, overrides, after) {
      const place = await placeOfLetters(context, params);
      if (!place.ok) return place;
      const found = await rows<{ code: string }>(
        context.tx,
        sql`${customersAskedFor(place.value, params)} and p.code > ${after}
          order by p.code limit ${AT_ONCE}`,
      );
      const codes = found.map((f) => f.code);
      const dropped = new Set(overrides.dropped);
      const items = await letterItems(context, place.value, params, codes, dropped);
      return ok({ items, next: codes.length < AT_ONCE ? null : codes.at(-1)! });
    },
    async explain({ tx }, _params, key, run) {
      const [found] = await rows<{
        label: string;
        why: string;
        amount: bigint;
        interest: string | null;
      }>(
        tx,
        sql`select label, why, amount, detail->>'interest' as interest from run_item
          where run_id = ${run} and key = ${key}`,
      );
      if (!found) return { title: "Nothing is known of this item", steps: [] };
      const interest = minor(BigInt(found.interest ?? "0"));
      return {
        title: found.label,
        steps: [
          { label: "In the letter", amount: minor(found.amount), total: true },
          ...(interest > 0n ? [{ label: "Interest on it", amount: interest }] : []),
        ],
      };
    },
    async finish({ tx, masters }, { company }, run) {
      const [sums] = await rows<{
        letters: number;
        unreachable: number;
        asked: bigint;
        fee: bigint;
        interest: bigint;
        invoiced: number;
        invoicedFee: bigint;
        invoicedInterest: bigint;
        unrated: number;
      }>(
        tx,
        sql`with item as (select i.amount, i.state, i.detail->>'partner' as partner,
              i.detail ? 'item' as is_item, i.detail->>'charge' as charge, i.left_out,
              coalesce((i.detail->>'invoiced')::boolean, false) as invoiced
            from run_item i where i.run_id = ${run})
          select count(distinct i.partner) filter (where i.is_item)::int as letters,
            count(distinct i.partner) filter (where i.is_item and ${letterEmail} = '')::int as unreachable,
            coalesce(sum(i.amount) filter (where i.is_item), 0)::bigint as asked,
            coalesce(sum(i.amount) filter (where i.charge = 'fee'), 0)::bigint as fee,
            coalesce(sum(i.amount) filter (where i.charge = 'interest'), 0)::bigint as interest,
            count(distinct i.partner) filter (where i.invoiced)::int as invoiced,
            coalesce(sum(i.amount) filter (where i.invoiced and i.charge = 'fee'), 0)::bigint
              as "invoicedFee",
            coalesce(sum(i.amount) filter (where i.invoiced and i.charge = 'interest'), 0)::bigint
              as "invoicedInterest",
            (select count(*)::int from item where state = 'out' and charge = 'interest') as unrated
          from item i join partner p on p.code = i.partner where i.state = 'in'`,
      );
      const { letters, unreachable, invoiced, unrated } = sums!;
      const block = chargesWithoutAccount(await readChargeAccounts(tx), {
        fee: sums!.invoicedFee,
        interest: sums!.invoicedInterest,
      });
      const { currency } = masters.companyByCode.get(company)!;
      const figures = [
        { label: "Asked for", amount: minor(sums!.asked) },
        { label: "Fees", amount: minor(sums!.fee) },
        { label: "Interest", amount: minor(sums!.interest) },
      ].filter((f, i) => i === 0 || f.amount > 0n);
      return ok({
        drafts: [],
        figures: figures.map((f) => ({ ...f, currency })),
        ...(letters === 0 ? {} : { makes: `Make ${counted(letters, "letter")}` }),
        blocks: [
          ...(letters === 0 ? ["Nothing is sent to anybody: see what is left out, and why"] : []),
          ...(block === null ? [] : [block]),
        ],
        warnings: [
          ...(invoiced > 0
            ? [`Fees and interest are posted: ${counted(invoiced, "invoice")}.`]
            : []),
          ...(unreachable > 0
            ? [`${counted(unreachable, "customer")} without an e-mail address: printed instead.`]
            : []),
          ...(unrated > 0
            ? [`No interest for ${counted(unrated, "customer")}: a rate is missing in Setup.`]
            : []),
        ],
      });
    },
    async write({ tx }, run, { from, to }) {
      const own = sql`run_item i where i.run_id = ${run} and i.no between ${from} and ${to}
        and i.state = 'in'`;
      await tx.execute(
        sql`insert into customer_letter (run_id, company_id, partner, kind, level, date, language,
            amount, fee, interest)
          select d.id, d.company_id, x.partner, r.params->>'what', x.level, d.date, p.language,
            x.amount, x.fee, x.interest
          from (select i.detail->>'partner' as partner,
              coalesce(max((i.detail->>'level')::int), 0) as level,
              coalesce(sum(i.amount) filter (where i.detail ? 'item'), 0)::bigint as amount,
              coalesce(sum(i.amount) filter (where i.detail->>'charge' = 'fee'), 0)::bigint as fee,
              coalesce(sum(i.amount) filter (where i.detail->>'charge' = 'interest'), 0)::bigint
                as interest
            from ${own} group by 1) x
          join partner p on p.code = x.partner join document d on d.id = ${run}
          join run r on r.id = d.id order by x.partner`,
      );
      await tx.execute(
        sql`insert into letter_item (letter_id, item_id, level, interest, interest_to)
          select l.id, (i.detail->>'item')::bigint, (i.detail->>'level')::int,
            (i.detail->>'interest')::bigint,
            case when c.invoiced and (i.detail->>'interest')::bigint > 0 then l.date end
          from (select i.detail from ${own} and (i.detail->>'level')::int > 0) i
            join customer_letter l on l.run_id = ${run} and l.partner = i.detail->>'partner'
            left join (select i.detail->>'partner' as partner,
                bool_or((i.detail->>'invoiced')::boolean) as invoiced
              from ${own} and i.detail->>'charge' = 'interest' group by 1) c
              on c.partner = l.partner`,
      );
    },
    async unwrite({ tx }, run) {
      const own = sql`select id from customer_letter where run_id = ${run}`;
      await tx.execute(sql`delete from letter_item where letter_id in (${own})`);
      await tx.execute(sql`delete from customer_letter where run_id = ${run}`);
    },
    posted: (context, { id, params }) =>
      invoiceCharges(context, id, context.masters.companyByCode.get(params.company)!.currency),
  },
});

const counted = (n: number, what: string): string =>
  `${n.toLocaleString("en")} ${what}${n === 1 ? "" : "s"}`;
