import { sql } from "drizzle-orm";
import { number, object, string, type InferType } from "yup";
import { partName } from "@/core/banks";
import { reversalOf, type DraftLine, type JournalDraft } from "@/core/ledger";
import { conversionOn, convertBy } from "@/core/rates";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  type Minor,
  type Result,
} from "@/core/shared";
import type { Context } from "../../access";
import { rows } from "../../db";
import { againstReason } from "../../documents";
import { postDrafts, reversalPlans } from "../../ledger";
import { releaseItems, settleTogether } from "../../openItems";
import { ratesFor } from "../../rates";
import { feeKind, type Kind } from "../statements/lineFacts";
import { matchOpenLines } from "../statements/matchOpenLines";
import type { DepositPartView, DepositView } from "./depositViews";
import { againstRules } from "../againstRules";

export const returnSchema = object({
  id: number().integer().required(),
  no: number().integer().required(),
  date: string().required("The day is missing"),
  reason: string().trim().default("").max(200),
  /** What the customer is charged for it; "" for nothing. */
  fee: string().trim().default(""),
  /** The kind of movement by which the fee is posted. */
  kind: string().trim().max(20).default(""),
});
export type ReturnInput = InferType<typeof returnSchema>;

/** What can be said against a return before anything is posted. */
export async function checkReturn(
  context: Context,
  slip: DepositView,
  input: ReturnInput,
): Promise<Result<{ part: DepositPartView; fee: Fee | null }>> {
  const part = slip.of.find((p) => p.no === input.no);
  if (!part || part.kind === "cash")
    return fail({ code: "NOT_FOUND", what: "such cheque, bill or note on it" });
  if (part.state !== "deposited")
    return fail({ code: "INVALID", what: `${partName(part)} has come back already` });
  const unsaid = await againstReason(context, "deposits", input.reason);
  if (unsaid) return fail(unsaid);
  if (!isCalendarDate(input.date))
    return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
  if (input.date < slip.date)
    return fail({
      code: "INVALID",
      what: "It comes back on the day of its slip at the earliest",
      field: "date",
    });
  const fee = await readFee(context, slip, input);
  return fee.ok ? ok({ part, fee: fee.value }) : fee;
}

/** Posts that a cheque, bill or note came back: what it had paid is open again from that day. */
export async function doReturn(
  context: Context,
  slip: DepositView,
  input: ReturnInput,
): Promise<Result<{ journal: string }>> {
  const checked = await checkReturn(context, slip, input);
  if (!checked.ok) return checked;
  const { part, fee } = checked.value;
  const posted = await postReturn(context, slip, part, input, fee);
  if (!posted.ok) return posted;
  const { id, number: journal } = posted.value;
  await context.tx.execute(
    sql`update deposit_part set state = 'returned', reason = ${input.reason},
      return_journal_id = ${id} where document_id = ${input.id} and no = ${input.no}`,
  );
  await context.tx.execute(
    sql`insert into document_link (from_id, to_id, kind) values (${input.id}, ${id}, 'made')`,
  );
  // The bank may have said it first: its line is explained by what the return has left.
  const [bank] = await rows<{ id: number }>(
    context.tx,
    sql`select bank_account_id as id from deposit where document_id = ${input.id}`,
  );
  await matchOpenLines(context, [bank!.id]);
  await context.audit({
    action: "return noted",
    kind: "deposit slip",
    recordId: input.id,
    label: slip.number,
    companyId: context.masters.companyByCode.get(slip.company)!.id,
    after: { part: partName(part), date: input.date, reason: input.reason, fee: input.fee },
  });
  return ok({ journal });
}

interface Fee {
  amount: Minor;
  kind: Kind;
}

async function readFee(
  { tx }: Context,
  slip: DepositView,
  input: { fee: string; kind: string },
): Promise<Result<Fee | null>> {
  if (input.fee === "") return ok(null);
  const read = readAmount(input.fee, slip.currency);
  if (!read.ok || read.amount <= 0n)
    return fail({ code: "AMOUNT_NOT_NUMBER", text: input.fee, field: "fee" });
  const kind = await feeKind(tx, input.kind);
  return kind.ok ? ok({ amount: read.amount, kind: kind.value }) : kind;
}

/**
 * The journal of a returned cheque: its own journal the other way round, beside the fee. It is no
 * reversal, for the bank may have the money on a statement already, and that stays.
 */
async function postReturn(
  context: Context,
  slip: DepositView,
  part: DepositPartView,
  input: { date: string; reason: string },
  fee: Fee | null,
): Promise<Result<{ id: number; number: string }>> {
  const { tx, masters } = context;
  const { posted } = (await reversalPlans(context, [part.journal.id])).get(part.journal.id)!;
  const { reverses: _reverses, ...swapped } = reversalOf(posted, input.date, undefined, "swap");
  const turned =
    part.kind === "card" && part.fee > 0n
      ? { ...swapped, lines: withFeeKept(context, swapped.lines, part.fee) }
      : swapped;
  const name = partName(part);
  const isOwed = (l: DraftLine) =>
    masters.accountByNumber.get(l.account)?.control === "receivables";
  const owed = turned.lines.find(isOwed);
  const lines = turned.lines.map((l): DraftLine => ({
    ...l,
    ...(l.partner ? { dueDate: input.date } : {}),
    item: {
      kind: "receipt",
      reference: isOwed(l) ? `${name} returned`.slice(0, 60) : slip.number,
    },
  }));
  if (fee) {
    const charged = await feeLines(context, slip, part, fee, owed?.account ?? "", input.date);
    if (!charged.ok) return charged;
    lines.push(...charged.value);
  }
  const draft: JournalDraft = {
    ...turned,
    type: "bank",
    description: `${name} of ${part.payer} returned: ${input.reason}`.slice(0, 200),
    reference: slip.number,
    lines: lines.map((l) => (isItemAccount(context, l.account) ? l : withoutItem(l))),
  };
  const allowed = await againstRules(context, [draft], "a slip");
  if (!allowed.ok) return allowed;
  const made = await postDrafts(context, [draft]);
  if (!made.ok) return made;
  const journal = made.value[0]!;
  await releaseItems(context, [{ id: part.journal.id, date: input.date }]);
  const used = await usedElsewhere(context, part.journal.id);
  if (used)
    return fail({
      code: "INVALID",
      what: `What ${name} left on account has been used since: undo that allocation first`,
    });
  const own = await rows<{ id: bigint; left: bigint; leftFunctional: bigint }>(
    tx,
    sql`select i.id, i.left_amount as "left", i.left_functional as "leftFunctional"
      from open_item i where i.area = 'receivables' and (i.journal_id = ${part.journal.id}
        or (i.journal_id = ${journal.id} and i.line_no <= ${turned.lines.length})) order by i.id`,
  );
  await settleTogether(context, "payment", [
    {
      companyId: masters.companyByCode.get(slip.company)!.id,
      date: input.date,
      journalId: journal.id,
      lines: own.map((o) => ({
        item: Number(o.id),
        amount: minor(o.left),
        functional: minor(o.leftFunctional),
      })),
    },
  ]);
  return ok({ id: journal.id, number: journal.number });
}

/**
 * Lines of a card payment that is charged back: the bank takes all that the customer had paid, and
 * the fee of collecting it stays spent.
 */
function withFeeKept({ masters }: Context, lines: readonly DraftLine[], kept: Minor): DraftLine[] {
  const controlOf = (l: DraftLine) => masters.accountByNumber.get(l.account)?.control;
  const fee = lines.find(
    (l) =>
      (l.foreignAmount ?? l.amount) === kept &&
      !["receivables", "transit"].includes(controlOf(l) ?? ""),
  );
  if (!fee) throw new Error("a card payment without the fee that it was posted with");
  return lines
    .filter((l) => l !== fee)
    .map((l) =>
      controlOf(l) !== "transit"
        ? l
        : {
            ...l,
            amount: minor(l.amount + fee.amount),
            ...(l.foreignAmount
              ? { foreignAmount: minor(l.foreignAmount + (fee.foreignAmount ?? 0n)) }
              : {}),
          },
    );
}

/** Whether something else has taken of what the journal of a part left open. */
const usedElsewhere = async ({ tx }: Context, journal: number): Promise<boolean> =>
  (
    await rows<{ id: bigint }>(
      tx,
      sql`select id from open_item where journal_id = ${journal} and area = 'receivables'
        and left_amount <> amount limit 1`,
    )
  ).length > 0;

const isItemAccount = ({ masters }: Context, account: string): boolean =>
  ["receivables", "transit"].includes(masters.accountByNumber.get(account)?.control ?? "");

function withoutItem({ item: _item, ...line }: DraftLine): DraftLine {
  return line;
}

/** What the customer owes for it, against the kind of movement by which the bank's charge is posted. */
async function feeLines(
  { tx, masters }: Context,
  slip: DepositView,
  part: DepositPartView,
  fee: Fee,
  account: string,
  date: string,
): Promise<Result<DraftLine[]>> {
  const functional = masters.companyByCode.get(slip.company)!.currency;
  const rates = await ratesFor(tx, masters, [
    { companies: [slip.company], currency: slip.currency, date },
  ]);
  const rate = conversionOn(rates, "spot", slip.currency, functional, date);
  if (rate === null)
    return fail({ code: "INVALID", what: `No rate of ${slip.currency} is known`, field: "fee" });
  const amounts = {
    amount: convertBy(fee.amount, slip.currency, functional, rate),
    ...(slip.currency === functional ? {} : { foreignAmount: fee.amount }),
  };
  const description = `Fee for the return of ${partName(part)}`;
  return ok([
    {
      account,
      dimensions: {},
      description,
      side: "debit",
      partner: part.partner,
      dueDate: date,
      item: { kind: "receipt", reference: description.slice(0, 60) },
      ...amounts,
    },
    {
      account: fee.kind.account,
      dimensions: fee.kind.dimensions,
      description,
      side: "credit",
      ...amounts,
    },
  ]);
}
