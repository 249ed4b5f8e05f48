import type { SettledItem } from "@/core/banks";
import type { Minor } from "@/core/shared";
import type { TaxTakenBack } from "@/core/taxes";
import type { Context } from "../../access";
import { recordMoney, type MoneyPlace } from "../../banks";
import type { PostedJournal } from "../../ledger";
import { settleByJournals } from "../../openItems";
import { takeBackParts } from "../../taxes";

/** A receipt whose journal is posted. */
export interface PostedReceipt {
  partner: string;
  payer: string;
  amount: Minor;
  number: string;
  /** What it is called in the register; “Receipt from …” where nothing else is said. */
  title?: string;
  journal: PostedJournal;
  settles: readonly SettledItem[];
  settling: number;
  taxes: readonly TaxTakenBack[];
}

/**
 * Keeps receipts whose journals are posted, in the same number of statements however many: each
 * settles by its own journal what it takes, so that it can be undone by itself, has its document,
 * and takes back what discounts take of taxes. Gives their documents in their order.
 */
export async function keepReceipts(
  context: Context,
  { company, bank, date }: Pick<MoneyPlace, "company" | "bank" | "date">,
  receipts: readonly PostedReceipt[],
): Promise<number[]> {
  await settleByJournals(
    context,
    "payment",
    receipts.map(({ settles, settling, journal }) => ({
      companyId: company.id,
      date,
      journalId: journal.id,
      settles,
      settling,
    })),
  );
  const documents = await recordMoney(
    context,
    receipts.map((r) => ({
      journal: r.journal.id,
      number: r.number,
      ...(r.title === undefined ? {} : { title: r.title }),
      bank: bank.id,
      partner: r.partner,
      payee: r.payer,
      amount: r.amount,
      currency: bank.currency,
      items: r.settles,
    })),
  );
  const ids = receipts.map((r) => documents.get(r.journal.id)!);
  await takeBackParts(
    context.tx,
    company.id,
    receipts.flatMap(({ taxes, journal }, i) =>
      taxes.map((t) => ({
        ...t,
        payment: ids[i]!,
        journal: { id: journal.id, seq: journal.seq, date },
      })),
    ),
  );
  return ids;
}
