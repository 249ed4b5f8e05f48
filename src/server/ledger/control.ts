import { object, string } from "yup";
import type { ControlKind } from "@/core/ledger";
import { minor, ok, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { loadTurnover } from "./balances";
import { findPlace, placeSchema } from "./trialBalance";

const KINDS: Record<"banks" | "assets", ControlKind> = { banks: "bank", assets: "asset" };

export interface ControlAccounts {
  currency: string;
  accounts: {
    account: string;
    name: string;
    opening: Minor;
    debit: Minor;
    credit: Minor;
    closing: Minor;
  }[];
}

/** The control accounts of an area over the periods chosen. */
export const controlAccounts = defineUseCase({
  name: "controlAccounts",
  kind: "read",
  rights: ["read.banks", "read.assets"],
  what: "see this area",
  company: (i) => i.company,
  schema: object({
    ...placeSchema,
    area: string()
      .oneOf(["banks", "assets"] as const)
      .required(),
  }),
  run: async (context, input): Promise<Result<ControlAccounts>> => {
    const { tx, masters } = context;
    const area = input.area as keyof typeof KINDS;
    if (!context.may(`read.${area}`, input.company))
      return { ok: false, problems: [{ code: "FORBIDDEN", what: `see ${area}` }] };
    const found = await findPlace(context, input);
    if (!found.ok) return found;
    const { company, book, from, to, years, asKnownSeq } = found.value;
    const accounts = masters.accounts.filter((a) => a.control === KINDS[area]);
    const turnover = await loadTurnover(
      tx,
      {
        companyId: company.id,
        bookId: book.id,
        yearIds: [to.yearId],
        accountIds: accounts.map((a) => a.id),
        upTo: { yearId: to.yearId, no: to.no },
        asKnownSeq,
      },
      masters,
      years,
    );
    return ok({
      currency: company.currency,
      accounts: accounts
        .map((a) => {
          const own = turnover.filter((t) => t.accountId === a.id);
          const opening = own
            .filter((t) => t.periodNo < from.no)
            .reduce((n, t) => n + t.debit - t.credit, 0n);
          const debit = own.filter((t) => t.periodNo >= from.no).reduce((n, t) => n + t.debit, 0n);
          const credit = own
            .filter((t) => t.periodNo >= from.no)
            .reduce((n, t) => n + t.credit, 0n);
          return {
            account: a.number,
            name: a.name,
            opening: minor(opening),
            debit: minor(debit),
            credit: minor(credit),
            closing: minor(opening + debit - credit),
          };
        })
        .filter((a) => a.opening !== 0n || a.debit !== 0n || a.credit !== 0n),
    });
  },
});
