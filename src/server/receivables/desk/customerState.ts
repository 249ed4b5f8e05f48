import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { latenessByQuarter, type QuarterOfHabit } from "@/core/openItems";
import { addMonths, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { contactsOf, type PartnerContact } from "../../partners";
import { agreedAhead } from "../agreements/agreedAhead";
import { readSales } from "../checkSale";
import { creditDays } from "../credit";
import { conversationWith, type Said } from "./conversation";
import { customerOf } from "./customerOf";
import { ranked, type DeskRow } from "./desk";
import { policiesByGroup } from "./policies";

/** Quarters over which it is looked at how late a customer pays. */
const QUARTERS = 6;

export interface CustomerState {
  currency: string;
  /** As the desk has it; null where nothing is open. */
  row: DeskRow | null;
  /** The credit limit in the company's currency; null where none is set, or no rate is known. */
  limit: Minor | null;
  /** What agreements bring, and in how many days from today. */
  agreed: Minor;
  agreedDays: number;
  kept: number;
  promises: number;
  late: QuarterOfHabit[];
  contacts: PartnerContact[];
  conversation: Said[];
}

/** How a customer of a company stands, whether or not anything is open, and all that was said. */
export const customerState = defineUseCase({
  name: "customerState",
  kind: "read",
  rights: ["read.receivables"],
  what: "see how a customer stands",
  company: (i) => i.company,
  schema: object({ company: string().required(), partner: string().required().max(60) }),
  run: async (context, input): Promise<Result<CustomerState>> => {
    const found = await customerOf(context, input);
    if (!found.ok) return found;
    const { company, partner, facts } = found.value;
    const on = context.today;
    const policyOf = await policiesByGroup(context);
    const agreedDays = facts?.limit == null ? 0 : await creditDays(context.tx);
    const [agreed] = await agreedAhead(
      context,
      [{ company: company.code, customer: partner.code, after: on }],
      agreedDays,
      (sales) => readSales(context, sales),
    );
    return ok({
      agreed: agreed!,
      agreedDays,
      currency: company.currency,
      row: facts ? ranked(facts, policyOf(facts.group), company.currency) : null,
      limit: facts?.limit ?? null,
      kept: facts?.kept ?? 0,
      promises: facts?.promises ?? 0,
      late: await lateBy(context, { companyId: company.id, code: partner.code, on }),
      contacts: await contactsOf(context.tx, partner.id),
      conversation: await conversationWith(context, company, partner),
    });
  },
});

async function lateBy(
  { tx }: Context,
  { companyId, code, on }: { companyId: number; code: string; on: CalendarDate },
): Promise<QuarterOfHabit[]> {
  const settled = await rows<{ due: CalendarDate; on: CalendarDate; amount: bigint }>(
    tx,
    sql`select i.due_date as due, a.date as on, l.functional as amount
      from open_item i join allocation_line l on l.item_id = i.id
        join allocation a on a.id = l.allocation_id
      where i.company_id = ${companyId} and i.area = 'receivables' and i.partner = ${code}
        and i.kind = 'invoice' and i.amount > 0
        and a.date > ${addMonths(on, -3 * QUARTERS)} and a.date <= ${on}`,
  );
  return latenessByQuarter(
    settled.map((s) => ({ ...s, amount: minor(s.amount) })),
    on,
    QUARTERS,
  );
}
