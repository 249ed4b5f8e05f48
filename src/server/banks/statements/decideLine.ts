import { sql } from "drizzle-orm";
import { array, boolean, number, object, string } from "yup";
import { codingOfKind, type KeptTake, type LineOutcome, type OwnTransfer } from "@/core/banks";
import { BESIDE_RATE, isWorthTheSame } from "@/core/banks/matching";
import { controlAccountOf } from "@/core/ledger";
import { agreedDiscounts, settledUnpaid } from "@/core/openItems";
import { conversionOn, convertBy, rateProblem } from "@/core/rates";
import { fail, minor, ok, readAmount, textRecord, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { againstReason } from "../../documents";
import { mayWriteOff } from "../../openItems";
import { ratesFor } from "../../rates";
import { codedAmount, codingFacts, writtenCoding } from "../codings";
import { codedKind, itemsOfLines, type ItemToTake } from "./lineFacts";
import { readLine, type LineRow } from "./viewLine";

const schema = object({
  id: number().integer().required(),
  version: number().integer().required(),
  /** Items that it pays, with amounts as typed; an empty amount is all that is left, as far as it goes. */
  takes: array(
    object({
      item: number().integer().required(),
      amount: string().trim().default(""),
      discount: string().trim().default(""),
    }),
  )
    .max(500)
    .default([]),
  /** A kind of movement, or a coding of its own, for what no item takes. */
  kind: string().trim().max(20).default(""),
  coding: object({
    account: string().trim().required("An account is needed"),
    dimensions: textRecord(),
    text: string().trim().max(200).default(""),
    tax: string().trim().uppercase().max(20).default(""),
    shares: string().trim().uppercase().max(20).default(""),
  })
    .nullable()
    .default(null),
  onAccount: boolean().default(false),
  /** Why what is short is written off. */
  writeOff: string().trim().max(200).default(""),
  /** Whose account the rest stays on, where no item of the partner is taken. */
  partner: string().trim().max(20).default(""),
  /** The other side, where it is money between accounts of our own. */
  transfer: object({
    bank: number().integer().required(),
    line: number().integer().nullable().default(null),
  })
    .nullable()
    .default(null),
});

/** Says what a line of a statement is. Nothing is posted before a run posts it. */
export const decideLine = defineUseCase({
  name: "decideLine",
  kind: "write",
  rights: ["prepare.banks"],
  what: "decide on lines of bank statements",
  of: "checked",
  schema,
  run: async (context, input): Promise<Result<{ id: number; version: number }>> => {
    const { tx, person, now } = context;
    const line = await readLine(context, input.id, true);
    const refused = lineToChange(context, line, input.version);
    if (!refused.ok) return refused;
    const row = refused.value;
    const items = await itemsById(context, row.companyId, input.takes);
    const takes = readTakes(items, row, input.takes);
    if (!takes.ok) return takes;
    const taken = takes.value.reduce((t, x) => t + BigInt(x.amount) - BigInt(x.discount), 0n);
    const rest = minor(row.amount - taken);
    const kind = input.kind === "" ? null : await codedKind(tx, input.kind);
    if (kind && !kind.ok) return kind;
    const coding = input.coding && writtenCoding(input.coding);
    const by = coding ?? (kind && codingOfKind(kind.value));
    if (by) {
      const facts = await codingFacts(context, row.company);
      const made = codedAmount(context, by, rest === 0n ? minor(row.amount) : rest, row, facts);
      if (!made.ok) return made;
    }
    const transfer = await readTransfer(context, row, input);
    if (!transfer.ok) return transfer;
    const hasPlace =
      input.kind !== "" ||
      input.coding !== null ||
      input.onAccount ||
      input.writeOff !== "" ||
      transfer.value !== null;
    if (rest !== 0n && !hasPlace)
      return fail({
        code: "INVALID",
        what: "The items are not the whole line: say where the rest goes",
        field: "takes",
      });
    const unpaid = await checkUnpaid(context, row, items, takes.value, input);
    if (!unpaid.ok) return unpaid;
    const account = await readAccountOf(context, row, input);
    if (!account.ok) return account;
    if (input.onAccount && rest > 0n !== row.amount > 0n && rest !== 0n)
      return fail({
        code: "INVALID",
        what: "More is taken of the items than came; only what is too much goes on account",
        field: "takes",
      });
    const payer = await payerOf(
      context,
      takes.value.map((t) => items.get(t.item)!.partner),
    );
    if (!payer.ok) return payer;
    const outcome: LineOutcome = {
      takes: takes.value,
      partner: payer.value || (account.value?.partner ?? ""),
      kind: input.kind,
      coding,
      rest: String(rest),
      onAccount: input.onAccount,
      ...(account.value ? { account: account.value.account } : {}),
      ...(input.writeOff === "" ? {} : { writeOff: input.writeOff }),
      transfer: transfer.value,
    };
    await tx.execute(
      sql`update statement_line set state = 'chosen', outcome = ${JSON.stringify(outcome)}::jsonb,
        decided_by = ${person.id}, decided_at = ${now.toISOString()}, version = version + 1
        where id = ${input.id}`,
    );
    return ok({ id: input.id, version: row.version + 1 });
  },
});

/** Whether a line can be decided on: it is there, the person's, as they saw it, and not posted. */
function lineToChange(
  { may }: Context,
  line: LineRow | undefined,
  version: number,
): Result<LineRow> {
  if (!line) return fail({ code: "NOT_FOUND", what: "such line of a statement" });
  if (!may("prepare.banks", line.company))
    return fail({ code: "FORBIDDEN", what: `decide on bank statements of ${line.company}` });
  if (line.state === "posted")
    return fail({
      code: "INVALID",
      what: `It is posted as ${line.journal}; reverse its run first`,
    });
  if (line.version !== version)
    return fail({ code: "STALE", by: line.by ?? "Somebody else", at: "" });
  return ok(line);
}

/** Who pays for items: whose they are, or the one head office of several customers; "" for nobody's. */
async function payerOf({ tx }: Context, partners: readonly string[]): Promise<Result<string>> {
  const codes = [...new Set(partners)];
  if (codes.length <= 1) return ok(codes[0] ?? "");
  const found = await rows<{ code: string; payer: string }>(
    tx,
    sql`select code, case when head_office = '' then code else head_office end as payer
      from partner where code = any(${arrayOf(codes)}::text[])`,
  );
  const payers = new Set(found.map((f) => f.payer));
  const [payer] = payers;
  return payers.size === 1 && found.length === codes.length
    ? ok(payer!)
    : fail({
        code: "INVALID",
        what: "The items are of several partners that no one head office pays for; a line is decided for one payer",
        field: "takes",
      });
}

/**
 * The partner on whose account a line stays as a whole, and which account that is: customers' money
 * on receivables, what goes to suppliers on payables; the other way round for who is only the other.
 */
async function readAccountOf(
  { tx, masters }: Context,
  line: LineRow,
  input: { onAccount: boolean; partner: string; takes: readonly unknown[] },
): Promise<Result<{ partner: string; account: string } | null>> {
  if (!input.onAccount || input.takes.length > 0) return ok(null);
  const field = "partner";
  if (input.partner === "")
    return fail({ code: "INVALID", what: "Choose whose account it stays on", field });
  const [partner] = await rows<{ code: string; supplier: boolean; customer: boolean }>(
    tx,
    sql`select code, supplier, customer from partner where code = ${input.partner}`,
  );
  if (!partner) return fail({ code: "NOT_FOUND", what: `partner ${input.partner}`, field });
  const isIn = line.amount > 0n;
  const control = (isIn ? partner.customer : !partner.supplier) ? "receivables" : "payables";
  const account = controlAccountOf(masters, control);
  return account === ""
    ? fail({ code: "INVALID", what: `The chart has no control account of ${control}`, field })
    : ok({ partner: partner.code, account });
}

/**
 * What of partners' items would be settled without money: within the limit of who decides, whatever
 * account it goes to, and with a reason where it is written off. What lies between our own payments
 * and the bank is no claim on anybody.
 */
async function checkUnpaid(
  context: Context,
  line: LineRow,
  items: ReadonlyMap<number, ItemToTake>,
  takes: readonly KeptTake[],
  input: { kind: string; coding: unknown; writeOff: string },
): Promise<Result<unknown>> {
  const { tx, masters } = context;
  const taken = takes.flatMap((t) => {
    const item = items.get(t.item)!;
    const [amount, discount] = [minor(BigInt(t.amount)), minor(BigInt(t.discount))];
    return item.control !== "transit"
      ? [
          {
            item: { ...item, discounts: agreedDiscounts(item.discounts), credited: minor(0n) },
            amount,
            discount,
          },
        ]
      : [];
  });
  const unpaid = settledUnpaid(minor(line.amount), line.booked, taken);
  if (input.writeOff !== "") {
    const field = "writeOff";
    if (unpaid === 0n || input.kind !== "" || input.coding !== null)
      return fail({
        code: "INVALID",
        what: "Only what is missing of the items is written off",
        field,
      });
    const unsaid = await againstReason(context, "writeOffs", input.writeOff, field);
    if (unsaid) return fail(unsaid);
    if (!masters.purposes.writeOff)
      return fail({ code: "PURPOSE_MISSING", purpose: "differences written off", field });
  }
  if (unpaid === 0n) return ok({});
  const company = masters.companyByCode.get(line.company)!;
  const rates = await ratesFor(tx, masters, [
    { companies: [company.code], currency: line.currency, date: line.booked },
  ]);
  const rate = conversionOn(rates, "spot", line.currency, company.currency, line.booked);
  if (rate === null)
    return fail({
      ...rateProblem(rates, "spot", line.currency, company.currency, line.booked),
      field: "takes",
    });
  const own = convertBy(unpaid, line.currency, company.currency, rate);
  return mayWriteOff(context, company, own, "takes");
}

/** The other side of money between own accounts, where it can be that. */
async function readTransfer(
  { tx, masters }: Context,
  line: LineRow,
  input: {
    takes: readonly unknown[];
    transfer: { bank: number; line: number | null } | null;
  },
): Promise<Result<OwnTransfer | null>> {
  if (!input.transfer) return ok(null);
  const field = "transfer";
  if (input.takes.length > 0)
    return fail({ code: "INVALID", what: "Money between own accounts pays no item", field });
  const [bank] = await rows<{
    code: string;
    currency: string;
    companyId: number;
    company: string;
  }>(
    tx,
    sql`select b.code, b.currency, b.company_id as "companyId", c.code as company
      from bank_account b join company c on c.id = b.company_id
      where b.id = ${input.transfer.bank}::bigint and b.code <> ${line.bank}`,
  );
  const isOther = bank !== undefined && bank.companyId !== line.companyId;
  const faces = isOther && masters.pair(line.company, bank.company) !== undefined;
  const isExchange = bank !== undefined && bank.currency !== line.currency;
  if (!bank || (isOther && (!faces || isExchange)))
    return fail({
      code: "INVALID",
      what: "The other account is another one of the company, or one in the same currency of a company that it has accounts with",
      field,
    });
  if (isOther)
    return ok({ bank: input.transfer.bank, code: bank.code, line: null, company: bank.company });
  const transfer = { ...input.transfer, code: bank.code };
  if (transfer.line === null) return ok(transfer);
  const [other] = await rows<{ amount: bigint; booked: string }>(
    tx,
    sql`select amount, booked from statement_line where id = ${transfer.line}
      and bank_account_id = ${transfer.bank}::bigint
      and (amount = ${-line.amount} or (${isExchange} and sign(amount) = ${line.amount > 0n ? -1 : 1}))
      and not exists (
        select 1 from statement_line o where o.id <> ${line.id} and o.state in ('chosen', 'posted')
          and o.company_id = ${line.companyId}
          and (o.outcome -> 'transfer' ->> 'line')::bigint = ${transfer.line})`,
  );
  if (!other)
    return fail({
      code: "INVALID",
      what: "The line of the other account is not there any more",
      field,
    });
  if (!isExchange) return ok(transfer);
  const sides = [
    { amount: line.amount, currency: line.currency, booked: line.booked },
    { amount: other.amount, currency: bank.currency, booked: other.booked },
  ];
  const rates = await ratesFor(
    tx,
    masters,
    sides.map((s) => ({ companies: [line.company], currency: s.currency, date: s.booked })),
  );
  const functional = masters.companyByCode.get(line.company)!.currency;
  const [here, there] = sides.map((s) => {
    const rate = conversionOn(rates, "spot", s.currency, functional, s.booked);
    return rate === null ? undefined : convertBy(minor(s.amount), s.currency, functional, rate);
  });
  return isWorthTheSame(here, there)
    ? ok(transfer)
    : fail({
        code: "INVALID",
        what: `The two amounts lie more than ${BESIDE_RATE} % apart by the rates of their days: they are no two sides of one exchange`,
        field,
      });
}

/** The items that are asked for, as they stand now. */
const itemsById = async (
  { tx }: Context,
  companyId: number,
  asked: readonly { item: number }[],
): Promise<ReadonlyMap<number, ItemToTake>> =>
  new Map(
    (
      await itemsOfLines(
        tx,
        companyId,
        asked.map((a) => a.item),
      )
    ).map((i) => [i.id, i]),
  );

/** What is taken of items, as typed, against what is left of each now. */
function readTakes(
  items: ReadonlyMap<number, ItemToTake>,
  line: LineRow,
  asked: readonly { item: number; amount: string; discount: string }[],
): Result<KeptTake[]> {
  const takes: KeptTake[] = [];
  let open = line.amount;
  for (const [place, a] of asked.entries()) {
    const field = `takes.${place}`;
    const item = items.get(a.item);
    if (!item || item.left === 0n)
      return fail({ code: "INVALID", what: "One of the items is not open any more", field });
    if (takes.some((t) => t.item === a.item))
      return fail({ code: "INVALID", what: `${item.reference} is chosen twice`, field });
    if (item.currency !== line.currency || item.left > 0n !== line.amount > 0n)
      return fail({
        code: "INVALID",
        what: `${item.reference} is ${item.currency === line.currency ? "on the other side" : `in ${item.currency}`}; this line cannot pay it`,
        field,
      });
    const sign = item.left > 0n ? 1n : -1n;
    const discount = a.discount === "" ? null : readAmount(a.discount, line.currency);
    if (discount && !discount.ok)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: a.discount, field });
    const less = discount?.ok ? sign * discount.amount : 0n;
    const read = a.amount === "" ? null : readAmount(a.amount, line.currency);
    if (read && !read.ok) return fail({ code: "AMOUNT_NOT_NUMBER", text: a.amount, field });
    const whole = read?.ok ? sign * read.amount : asFarAsItGoes(item, minor(open + less));
    const isOfItem = whole * sign > 0n && whole * sign <= item.left * sign;
    if (!isOfItem)
      return fail({
        code: "INVALID",
        what: `Of ${item.reference} no more can be taken than is left, and not nothing`,
        field,
      });
    if (less * sign < 0n || less * sign >= whole * sign)
      return fail({ code: "INVALID", what: "A discount is less than what is taken", field });
    if (less !== 0n && item.control !== "receivables")
      return fail({
        code: "INVALID",
        what: "A supplier's discount is taken by a payment, which takes its tax back",
        field,
      });
    open -= whole - less;
    takes.push({ item: a.item, amount: String(whole), discount: String(less) });
  }
  return ok(takes);
}

const asFarAsItGoes = (item: ItemToTake, open: bigint): bigint =>
  (item.left > 0n ? open > item.left : open < item.left) ? item.left : open;
