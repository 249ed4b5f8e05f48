import { object, string } from "yup";
import { fail, isCalendarDate, ok, readInstant, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { differences, type Difference } from "./differences";
import { subLedgersOn } from "./subLedgersOn";

/** A list beside its control accounts; functional minor units, debit positive. */
export interface ReconciliationRow {
  control: string;
  list: string;
  lists: string;
  page: string;
  /** The book, where the books differ. */
  book: string | null;
  accounts: string[];
  listed: bigint;
  held: bigint;
}
export interface Reconciliation {
  currency: string;
  rows: ReconciliationRow[];
  /** Where they differ, by partner and currency; nothing of an earlier moment. */
  differences: Difference[];
}

/** How many differences are named. */
const MOST = 200;

/** Each sub-ledger of a company held against its control accounts on a day. */
export const reconcileSubLedgers = defineUseCase({
  name: "reconcileSubLedgers",
  kind: "read",
  rights: ["read.close", "read.ledger"],
  what: "reconcile sub-ledgers",
  company: (i) => i.company,
  schema: object({ company: string().required(), on: string().required(), asKnown: string() }),
  run: async (context, input): Promise<Result<Reconciliation>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.on))
      return fail({ code: "DATE_INVALID", text: input.on, field: "on" });
    if (input.asKnown && !readInstant(input.asKnown))
      return fail({ code: "DATE_INVALID", text: input.asKnown, field: "asKnown" });
    const lists = await subLedgersOn(context, company.id, input);
    const found: Difference[] = [];
    // Told apart as known now: of an earlier moment only the sums are shown.
    const apart = input.asKnown
      ? []
      : new Set(lists.filter((l) => l.held !== l.listed).map((l) => l.list));
    for (const list of apart)
      found.push(
        ...(await differences(context.tx, list, { companyId: company.id, on: input.on }, MOST)),
      );
    return ok({
      currency: company.currency,
      rows: lists.map(({ list, ...rest }) => ({
        control: list.control,
        list: list.name,
        lists: list.lists,
        page: list.page,
        ...rest,
      })),
      differences: found.slice(0, MOST),
    });
  },
});
