import { sql } from "drizzle-orm";
import { number, object } from "yup";
import type { KeptCandidate, KeptTake, LineOutcome, LineState } from "@/core/banks";
import type { BatchPlace, StatementDetail } from "@/core/banks/statements";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { remarksOn, type Remark } from "../../documents";
import { itemsOfLines, readKinds, type ItemToTake } from "./lineFacts";

/** What is taken of an item, beside the item as it stands now; null where it is gone. */
export interface TakeView {
  item: ItemToTake | null;
  amount: Minor;
  discount: Minor;
}

/** An explanation, with the items as they stand now. */
export interface CandidateView extends Omit<KeptCandidate, "takes" | "rest"> {
  takes: TakeView[];
  rest: Minor;
  partnerName: string;
  kindName: string;
}

export interface OutcomeView extends Omit<LineOutcome, "takes" | "rest"> {
  takes: TakeView[];
  rest: Minor;
  kindName: string;
  partnerName: string;
}

/** A line of a statement with all that explains it. */
export interface StatementLineView {
  id: number;
  version: number;
  company: string;
  bank: { code: string; name: string; account: string };
  statement: {
    id: number;
    number: string;
    /** The file it came in; null where it was copied from paper. */
    file: { id: number; name: string } | null;
    from: number;
    to: number;
  };
  currency: string;
  booked: CalendarDate;
  valued: CalendarDate;
  amount: Minor;
  takesBack: boolean;
  code: string;
  party: { name: string; account: string; bic: string };
  keys: { label: string; value: string }[];
  text: string;
  returnReason: string;
  details: (Omit<StatementDetail, "amount"> & { amount: string | null })[];
  /** Of which line of the bank it is a part. */
  batch: BatchPlace | null;
  state: LineState;
  but: string;
  candidates: CandidateView[];
  outcome: OutcomeView | null;
  decided: { by: string; at: string } | null;
  journal: { id: number; number: string } | null;
  /** What was said about it. */
  remarks: Remark[];
  /** The slip of a customer's cheque that it takes back: what the cheque had paid is opened there. */
  slip: { id: number; number: string; cheque: string } | null;
}

export interface LineRow {
  id: bigint;
  version: number;
  companyId: number;
  company: string;
  bank: string;
  bankName: string;
  account: string;
  /** The usual values of its bank account, by dimension. */
  usual: Record<string, string>;
  statementId: bigint;
  statement: string;
  file: string;
  fileId: bigint | null;
  fromLine: number;
  toLine: number;
  currency: string;
  booked: string;
  valued: string;
  amount: bigint;
  takesBack: boolean;
  code: string;
  name: string;
  partyAccount: string;
  bic: string;
  endToEnd: string;
  creditorReference: string;
  mandate: string;
  cheque: string;
  bankReference: string;
  text: string;
  returnReason: string;
  details: StatementLineView["details"];
  batch: BatchPlace | null;
  state: LineState;
  but: string;
  candidates: KeptCandidate[];
  outcome: LineOutcome | null;
  by: string | null;
  at: string | null;
  journalId: bigint | null;
  journal: string | null;
}

/** A line as it is kept, locked for a change where that is wanted. */
export async function readLine(
  { tx }: Context,
  id: number,
  lock = false,
): Promise<LineRow | undefined> {
  const [row] = await rows<LineRow>(
    tx,
    sql`select l.id, l.version, l.company_id as "companyId", c.code as company, b.code as bank,
        b.name as "bankName", b.account, b.dimensions as usual, s.id as "statementId", s.number as statement,
        coalesce(f.name, '') as file, f.id as "fileId",
        l.from_line as "fromLine", l.to_line as "toLine", s.currency, l.booked,
        l.valued, l.amount, l.takes_back as "takesBack", l.code, l.party_name as name,
        l.party_account as "partyAccount", l.party_bic as bic, l.end_to_end as "endToEnd",
        l.creditor_reference as "creditorReference", l.mandate, l.cheque,
        l.bank_reference as "bankReference", l.text, l.return_reason as "returnReason", l.details, l.batch,
        l.state, l.but, l.candidates, l.outcome, p.name as by, l.decided_at as at,
        l.journal_id as "journalId", j.number as journal
      from statement_line l join bank_statement s on s.id = l.statement_id
        left join statement_file f on f.id = s.file_id join bank_account b on b.id = l.bank_account_id
        join company c on c.id = l.company_id left join person p on p.id = l.decided_by
        left join journal j on j.id = l.journal_id
      where l.id = ${id} ${lock ? sql`for update of l` : sql``}`,
  );
  return row;
}

export const getStatementLine = defineUseCase({
  name: "getStatementLine",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<StatementLineView>> => {
    const row = await readLine(context, input.id);
    if (!row) return fail({ code: "NOT_FOUND", what: "such line of a statement" });
    if (!context.may("read.banks", row.company))
      return fail({ code: "FORBIDDEN", what: `see bank statements of ${row.company}` });
    return ok(await toView(context, row));
  },
});

/** The slip whose cheque a line takes back, where that is not noted on it yet. */
async function slipOfCheque({ tx }: Context, line: LineRow): Promise<StatementLineView["slip"]> {
  if (line.amount >= 0n || line.state === "posted") return null;
  const [slip] = await rows<{ id: bigint; number: string; cheque: string }>(
    tx,
    sql`select d.id, d.number, y.cheque from deposit_part y join deposit t on t.document_id = y.document_id
        join document d on d.id = y.document_id and d.status = 'posted'
        join bank_account b on b.id = t.bank_account_id
      where b.code = ${line.bank} and y.kind = 'cheque' and y.cheque <> ''
        and (y.cheque = ${line.cheque} or y.cheque = any(regexp_split_to_array(${line.text}, '[^0-9A-Za-z-]+')))
        and y.state = 'deposited' and y.amount = ${-line.amount} order by d.id limit 1`,
  );
  return slip ? { id: Number(slip.id), number: slip.number, cheque: slip.cheque } : null;
}

async function toView(context: Context, row: LineRow): Promise<StatementLineView> {
  const { tx, masters } = context;
  const ids = [...row.candidates, ...(row.outcome ? [row.outcome] : [])].flatMap((c) =>
    c.takes.map((t) => t.item),
  );
  const items = new Map((await itemsOfLines(tx, row.companyId, ids)).map((i) => [i.id, i]));
  const kinds = await readKinds(tx);
  const names = await rows<{ code: string; name: string }>(
    tx,
    sql`select code, name from partner where code in (
      select x ->> 'partner' from jsonb_array_elements(${JSON.stringify(row.candidates)}::jsonb) x)
      or code = ${row.outcome?.partner ?? ""}`,
  );
  const nameOf = new Map(names.map((n) => [n.code, n.name]));
  const takes = (of: readonly KeptTake[]): TakeView[] =>
    of.map((t) => ({
      item: items.get(t.item) ?? null,
      amount: minor(BigInt(t.amount)),
      discount: minor(BigInt(t.discount)),
    }));
  const account = masters.accountByNumber.get(row.account);
  return {
    remarks: await remarksOn(tx, { statementLine: Number(row.id) }),
    slip: await slipOfCheque(context, row),
    id: Number(row.id),
    version: row.version,
    company: row.company,
    bank: {
      code: row.bank,
      name: row.bankName,
      account: account ? `${account.number} ${account.name}` : row.account,
    },
    statement: {
      id: Number(row.statementId),
      number: row.statement,
      file: row.fileId === null ? null : { id: Number(row.fileId), name: row.file },
      from: row.fromLine,
      to: row.toLine,
    },
    currency: row.currency,
    booked: row.booked,
    valued: row.valued,
    amount: minor(row.amount),
    takesBack: row.takesBack,
    code: row.code,
    party: { name: row.name, account: row.partyAccount, bic: row.bic },
    keys: [
      { label: "End-to-end id", value: row.endToEnd },
      { label: "Creditor reference", value: row.creditorReference },
      { label: "Mandate", value: row.mandate },
      { label: "Cheque", value: row.cheque },
      { label: "Bank's reference", value: row.bankReference },
    ].filter((k) => k.value !== ""),
    text: row.text,
    returnReason: row.returnReason,
    details: row.details,
    batch: row.batch,
    state: row.state,
    but: row.but,
    candidates: row.candidates.map((c) => ({
      ...c,
      takes: takes(c.takes),
      rest: minor(BigInt(c.rest)),
      partnerName: nameOf.get(c.partner) ?? c.partner,
      kindName: kinds.get(c.kind)?.name ?? "",
    })),
    outcome: row.outcome
      ? {
          ...row.outcome,
          takes: takes(row.outcome.takes),
          rest: minor(BigInt(row.outcome.rest)),
          kindName: kinds.get(row.outcome.kind)?.name ?? "",
          partnerName: nameOf.get(row.outcome.partner) ?? row.outcome.partner,
        }
      : null,
    decided: row.by && row.at ? { by: row.by, at: row.at } : null,
    journal:
      row.journalId !== null && row.journal !== null
        ? { id: Number(row.journalId), number: row.journal }
        : null,
  };
}
