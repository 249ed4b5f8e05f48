import { sql } from "drizzle-orm";
import { makeDeposit } from "../src/server/banks";
import { saveWriteOffLimit } from "../src/server/openItems";
import { rows, type Database } from "../src/server/db";
import { saleInput, type SaleInput } from "../src/core/receivables";
import { askForCreditLimit, savePartner } from "../src/server/partners";
import {
  createSale,
  listWriteOffs,
  makePromise,
  openDispute,
  saveAgreement,
  saveMandate,
  saveReceivablesSettings,
  saveSale,
  sayOfCustomer,
  writeOffItems,
} from "../src/server/receivables";
import { postRun, proposeRun } from "../src/server/runs";
import { saveTaxCode } from "../src/server/taxes";
import { thingsOfAssets } from "./thingsOfAssets";
import { callerOf, must } from "./world";

/**
 * What stands beside Alpha's things where a test wants some of everything, and what no older books
 * have: invoices to a customer, a promise and a dispute, a deposit slip, a receipt, a limit of
 * writing off, a simulated bank, a file of statements, and a
 * reconciliation, which need not hold.
 */
export async function thingsBeside(database: Database): Promise<{
  slip: { id: number };
  receipt: { id: number };
  reconciled: { id: number; documentId: number };
  file: { id: number };
  reading: { id: number };
  sale: { id: number; item: number; content: SaleInput };
  saleDraft: { id: number; version: number };
  promise: { id: number };
  agreement: { id: number; version: number };
  dispute: { id: number };
  said: { id: number };
  letters: { run: number };
  writeOff: { journal: number };
  mandate: { id: number };
  debits: { run: number };
  creditRequest: { id: number };
  assets: Awaited<ReturnType<typeof thingsOfAssets>>;
}> {
  const [reconciled] = await rows<{ id: number; documentId: number }>(
    database.db,
    sql`with made as (insert into document (kind, number, company_id, status, created_by)
        select 'reconciliation', 'MAIN 2026-01-31', company_id, 'closed', 1
        from bank_statement where number = '1' returning id)
      insert into reconciliation (company_id, bank_account_id, date, statement_id, bank, ledger,
        between, head_seq, head_hash, document_id, pdf, digest, closed_by, closed_at)
      select company_id, bank_account_id, '2026-01-31', bank_statement.id, 0, 0,
        '{"notPosted": [], "notOnStatement": [], "underWay": []}', 1, 'h', made.id, '', 'd', 1, now()
      from bank_statement, made where number = '1'
      returning id::int as id, document_id::int as "documentId"`,
  );
  await database.db.execute(sql`insert into setting (key, value) values ('demo', 'true')`);
  const slip = must(
    await makeDeposit(await callerOf(database, "root"), {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-05",
      parts: [{ kind: "cheque", partner: "TRA", cheque: "4711", amount: "5.00" }],
    }),
  );
  must(
    await saveWriteOffLimit(await callerOf(database, "root"), {
      person: "treasury",
      company: "ALP",
      limit: "5.00",
    }),
  );
  const [receipt] = await rows<{ id: number }>(
    database.db,
    sql`with made as (insert into document (kind, number, company_id, status, created_by, date, amount, currency)
        select 'receipt', 'ALP-26-C00001', id, 'posted', 1, '2026-10-05', 1, 'EUR'
        from company where code = 'ALP'
        returning id, company_id),
      kept as (insert into receipt (document_id, bank_account_id, partner, payer, journal_id)
        select made.id, b.id, 'TRA', 'Travellers', (select min(j.id) from journal j
          where j.company_id = made.company_id)
        from made join bank_account b on b.code = 'MAIN' returning document_id),
      item as (insert into receipt_item (receipt_id, item_id, taken, functional)
        select document_id, (select min(id) from open_item), 1, 1 from kept returning receipt_id)
      select receipt_id::int as id from item`,
  );
  const [file] = await rows<{ id: number }>(
    database.db,
    sql`insert into statement_file (name, format, digest, content, company_ids, made_by, made_at)
      select 'alpha.xml', 'camt.053', 'd', 'eA==', array[id], 1, now() from company where code = 'ALP'
      returning id::int as id`,
  );
  const [reading] = await rows<{ id: number }>(
    database.db,
    sql`insert into statement_reading (bank_account_id, headings, reading, saved_by, saved_at)
      select id, 'day amount', '{"headings": ["day", "amount"]}', 1, now() from bank_account
      where code = 'MAIN' returning id`,
  );
  const selling = await sold(database);
  return {
    ...selling,
    slip,
    receipt: receipt!,
    reconciled: reconciled!,
    file: file!,
    reading: reading!,
    ...(await debited(database, receipt!.id)),
    assets: await thingsOfAssets(database),
  };
}

/**
 * A customer's mandate, a run of direct debits in preview, a receipt as if it came of one, and a
 * credit limit that is asked for.
 */
async function debited(database: Database, receipt: number) {
  const root = await callerOf(database, "root");
  await database.db.execute(
    sql`update company set creditor_id = 'DE98ZZZ09999999999' where code = 'ALP'`,
  );
  const mandate = must(
    await saveMandate(root, {
      company: "ALP",
      partner: "CUS",
      reference: "M-CUS",
      signed: "2026-01-10",
      scheme: "core",
      kind: "recurrent",
      iban: "DE75512108001245126199",
      notice: 1,
    }),
  );
  const run = must(
    await proposeRun(root, {
      kind: "direct-debit",
      params: { company: "ALP", bank: "MAIN", date: "2026-10-20", upTo: "2026-12-31" },
    }),
  );
  await database.db.execute(
    sql`insert into direct_debit (receipt_id, mandate_id, run_id, sequence)
      values (${receipt}, ${mandate.id}, ${run.id}, 'FRST')`,
  );
  const creditRequest = must(
    await askForCreditLimit(root, {
      partner: "CUS",
      limit: "1,000.00",
      currency: "EUR",
      reason: "More berths",
    }),
  );
  return { mandate, debits: { run: run.id }, creditRequest };
}

/** An invoice to a customer and a draft of one, with what was promised and disputed of it. */
async function sold(database: Database) {
  const root = await callerOf(database, "root");
  must(await savePartner(root, { code: "CUS", name: "A customer", customer: true, country: "DE" }));
  must(
    await saveTaxCode(root, {
      code: "OUT0",
      name: "Outside the scope",
      direction: "sale",
      kind: "none",
      category: "O",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  const content = saleInput({
    company: "ALP",
    customer: "CUS",
    date: "2026-10-05",
    lines: [
      { account: "4130", dimensions: { costCentre: "HARB" }, net: "100.00", taxCode: "OUT0" },
    ],
  });
  const { id } = must(await createSale(root, { ...content, post: true }));
  const { id: draft, version } = must(await saveSale(root, { content }));
  const [item] = await rows<{ id: number }>(
    database.db,
    sql`select id::int as id from open_item where document_id = ${id}`,
  );
  const promise = must(
    await makePromise(root, {
      company: "ALP",
      partner: "CUS",
      due: "2026-12-31",
      items: [{ id: item!.id, amount: "10.00" }],
    }),
  );
  const dispute = must(
    await openDispute(root, { item: item!.id, amount: "5.00", reason: "price" }),
  );
  const letters = must(
    await proposeRun(root, {
      kind: "letters",
      params: { company: "ALP", what: "statement", date: "2026-10-15", customers: ["CUS"] },
    }),
  );
  must(await postRun(root, { key: String(letters.id) }));
  must(await saveWriteOffLimit(root, { person: "receivables", company: "ALP", limit: "50.00" }));
  must(
    await saveReceivablesSettings(root, {
      creditRule: "warn",
      lossDimensions: { costCentre: "HARB" },
    }),
  );
  must(
    await writeOffItems(await callerOf(database, "receivables"), {
      company: "ALP",
      date: "2026-10-15",
      reason: "never found again",
      items: [{ id: item!.id, amount: "1.00" }],
    }),
  );
  const [gone] = must(await listWriteOffs(root, { company: "ALP" }));
  const agreement = must(
    await saveAgreement(root, {
      agreement: {
        name: "Agreed",
        rhythm: { every: 1, unit: "month", first: "31 Oct 2026", until: "" },
        clause: {},
        sale: { ...content, date: "" },
      },
    }),
  );
  const said = must(await sayOfCustomer(root, { company: "ALP", partner: "CUS", text: "A call" }));
  return {
    agreement,
    said,
    letters: { run: letters.id },
    writeOff: { journal: gone!.journal.id },
    sale: { id, item: item!.id, content },
    saleDraft: { id: draft, version },
    promise,
    dispute,
  };
}
