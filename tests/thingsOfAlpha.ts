import { sql } from "drizzle-orm";
import { saveApprovalRule } from "../src/server/approvals";
import {
  importStatements,
  saveBankAccount,
  saveLineRule,
  saveSignature,
  startPaperStatement,
} from "../src/server/banks";
import { rows, type Database } from "../src/server/db";
import { addAttachment } from "../src/server/documents";
import {
  createJournal,
  loadJournals,
  saveBatch,
  saveDraft,
  saveRecurring,
  saveShortcut,
  saveTemplate,
  submitDraft,
} from "../src/server/ledger";
import { allocateItems, openItems } from "../src/server/openItems";
import { addPartnerBank, decidePartnerBank, savePartner } from "../src/server/partners";
import {
  createInvoice,
  makePayment,
  saveInvoice,
  saveRecurringInvoice,
  sendAdvices,
} from "../src/server/payables";
import { makePaymentFile, paymentsOfRun, printCheques } from "../src/server/banks";
import { createOrder, receiveOrder, saveCleanUpRule, saveOrder } from "../src/server/purchasing";
import { postRun, proposeRun } from "../src/server/runs";
import { declareTaxes, saveTaxCode } from "../src/server/taxes";
import { callerOf, must, written } from "./world";

/** A picture of one white point. */
const PNG = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8/5+hHgAHggJ/PchI7wAAAABJRU5ErkJggg==",
  "base64",
);

/** A statement of one line for the account MAIN. */
const STATEMENT = {
  name: "main.sta",
  content: Buffer.from(
    ":20:A\n:25:DE02500105170137075030\n:28C:1\n:60F:C261005EUR0,00\n:61:261005C5,00NTRFX\n:62F:C261005EUR5,00\n-",
  ).toString("base64"),
};

/** One of everything that belongs to the company ALP, with what names it. */
export async function thingsOfAlpha(database: Database) {
  const root = await callerOf(database, "root");
  const clerk = await callerOf(database, "payables");
  const one = async <T extends object>(query: ReturnType<typeof sql>): Promise<T> =>
    (await rows<T>(database.db, query))[0]!;

  for (const [code, method] of [
    ["TRA", "transfer"],
    ["CHQ", "cheque"],
  ])
    must(
      await savePartner(root, {
        code,
        name: `Supplier ${code}`,
        supplier: true,
        customer: true,
        country: "DE",
        method,
        email: `${code!.toLowerCase()}@supplier.example`,
      }),
    );
  must(
    await decidePartnerBank(root, {
      id: must(await addPartnerBank(clerk, { partner: "TRA", iban: "DE75512108001245126199" })).id,
      to: "confirmed",
    }),
  );
  must(
    await saveBankAccount(root, {
      code: "MAIN",
      name: "Current account of ALP",
      company: "ALP",
      currency: "EUR",
      iban: "DE02500105170137075030",
      account: "1110",
      underWayAccount: "1120",
      overdraft: "900,000.00",
      chequeSort: "990017",
      chequeAccount: "12345678",
    }),
  );
  must(await saveSignature(root, { code: "MAIN", picture: PNG.toString("base64") }));
  must(
    await saveTaxCode(root, {
      code: "S",
      name: "Standard",
      kind: "standard",
      account: "1410",
      returnLine: "60",
      rates: [{ from: "2020-01-01", percent: "23" }],
    }),
  );

  const content = written();
  const draft = must(await saveDraft(root, { content }));
  const posted = must(await createJournal(root, { ...content, post: true }));
  const batch = must(
    await saveBatch(root, { content: { company: "ALP", name: "Of ALP", period: "2026-10" } }),
  );
  const inBatch = must(await saveDraft(root, { content, batch: batch.id }));
  const shortcut = must(
    await saveShortcut(root, { company: "ALP", name: "quay", account: "6310", shared: true }),
  );
  const template = must(await saveTemplate(root, { name: "Of ALP", content }));
  const rhythm = { every: 1, unit: "month", first: "2026-09-30", until: "" };
  const recurring = must(await saveRecurring(root, { name: "Monthly", content, rhythm }));
  must(
    await loadJournals(root, { mode: "draft", source: "alp.csv", journals: [{ input: content }] }),
  );
  const load = await one<{ id: number }>(sql`select max(id) as id from journal_load`);

  let n = 0;
  const invoiceOf = (supplier: string, more: object = {}) => ({
    company: "ALP",
    supplier,
    number: `X-${++n}`,
    date: "2026-09-02",
    lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net: "100.00", taxCode: "S" }],
    ...more,
  });
  const invoiceDraft = must(await saveInvoice(clerk, { content: invoiceOf("TRA") }));
  for (const supplier of ["TRA", "TRA", "CHQ", "CHQ"])
    must(await createInvoice(clerk, { ...invoiceOf(supplier), post: true }));
  const invoice = must(await createInvoice(clerk, { ...invoiceOf("TRA"), post: true }));
  const paper = must(
    await addAttachment(clerk, {
      id: invoiceDraft.id,
      name: "secret.txt",
      content: Buffer.from("for ALP only").toString("base64"),
    }),
  );
  const recurringInvoice = must(
    await saveRecurringInvoice(clerk, {
      template: {
        name: "Rent",
        suppliers: ["TRA"],
        rhythm,
        numberPattern: "R-{yyyy}-{mm}",
        invoice: invoiceOf("TRA"),
      },
    }),
  );
  const orderContent = {
    company: "ALP",
    supplier: "TRA",
    date: "2026-10-01",
    description: "Rope",
    lines: [
      {
        account: "6310",
        dimensions: { costCentre: "HARB" },
        description: "Rope",
        quantity: "10",
        price: "10.00",
        taxCode: "S",
      },
    ],
  };
  const orderDraft = must(await saveOrder(clerk, { content: orderContent }));
  const order = must(await createOrder(clerk, orderContent));
  const receipt = must(
    await receiveOrder(clerk, {
      order: order.id,
      date: "2026-10-05",
      lines: [{ no: 1, quantity: "4" }],
    }),
  );
  const held = must(
    await createInvoice(clerk, {
      ...invoiceOf("TRA", { date: "2026-10-06" }),
      lines: [{ order: `${order.number}/1`, quantity: "9", net: "150.00", taxCode: "S" }],
      post: true,
    }),
  );

  const pay = async (method: string) =>
    must(
      await proposeRun(clerk, {
        kind: "payment",
        params: { company: "ALP", bank: "MAIN", date: "2026-10-15", next: "2026-10-22", method },
      }),
    );
  const sent = await pay("transfer");
  must(await postRun(clerk, { key: String(sent.id) }));
  const file = must(await makePaymentFile(clerk, { run: sent.id }));
  const [payment] = must(await paymentsOfRun(clerk, { run: sent.id })).payments;
  must(await sendAdvices(clerk, { payment: payment!.id }));
  const preview = await pay("cheque");
  must(await printCheques(clerk, { run: preview.id, first: 501 }));
  const cheque = await one<{ id: number }>(
    sql`select id::int as id from cheque where number = 501`,
  );
  const message = await one<{ id: number }>(sql`select max(id)::int as id from outbox`);

  must(await createInvoice(clerk, { ...invoiceOf("TRA"), post: true }));
  const manual = must(
    await makePayment(clerk, {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-16",
      supplier: "TRA",
      method: "manual",
      lines: [{ account: "1430", dimensions: {}, description: "In advance", amount: "20.00" }],
    }),
  );
  const items = must(
    await openItems(clerk, { company: "ALP", area: "payables", on: "2026-10-31", partner: "TRA" }),
  );
  const debit = items.find((i) => i.left > 0n);
  const credit = items.find((i) => i.left < 0n)!;
  if (debit)
    must(
      await allocateItems(clerk, {
        date: "2026-10-20",
        pairs: [{ first: debit.id, second: credit.id, amount: "5.00" }],
      }).then((r) => (r.ok ? r : { ok: true as const, value: { id: 0, journal: null } })),
    );
  const allocation = await one<{ id: number }>(sql`select max(id)::int as id from allocation`);
  const declaration = must(
    await declareTaxes(root, { company: "ALP", from: "2026-01-01", to: "2026-01-31" }),
  );
  const bank = must(
    await addPartnerBank(clerk, { partner: "CHQ", iban: "DE02120300000000202051" }),
  );
  const cleanUp = must(
    await saveCleanUpRule(root, {
      place: 1,
      name: "small",
      conditions: [{ part: "amount", by: "at most", value: "1.00" }],
    }),
  );
  const rule = must(
    await saveApprovalRule(root, {
      type: "general",
      company: "ALP",
      minimum: "40,000.00",
      currency: "EUR",
      role: "controller",
    }),
  );
  const waiting = must(await saveDraft(await callerOf(database, "accountant"), { content }));
  must(
    await submitDraft(await callerOf(database, "accountant"), {
      id: waiting.id,
      version: waiting.version,
      content,
    }),
  );
  const [job] = await rows<{ id: number }>(
    database.db,
    sql`insert into job (kind, company_id, person_id, title, page, params, alone)
      select 'post-run', c.id, p.id, 'A large run', '/close/runs/1', '{"run":0}', 'x'
      from company c, person p where c.code = 'ALP' and p.login = 'payables' returning id`,
  );
  must(await importStatements(root, STATEMENT));
  const line = await one<{ id: number; version: number }>(
    sql`select id::int as id, version from statement_line`,
  );
  const onPaper = must(
    await startPaperStatement(root, {
      company: "ALP",
      bank: "MAIN",
      number: "2",
      closingDate: "2026-10-06",
      closing: "5.00",
    }),
  );
  const lineRule = must(
    await saveLineRule(root, {
      company: "ALP",
      name: "Left alone",
      place: 1,
      text: "nothing like it",
      outcome: "leave",
    }),
  );
  return {
    line,
    lineRule,
    onPaper,
    job: job!,
    content,
    draft,
    posted,
    batch,
    inBatch,
    shortcut,
    template,
    recurring,
    load,
    invoiceContent: invoiceOf("TRA"),
    invoiceDraft,
    invoice,
    held,
    paper,
    recurringInvoice,
    orderContent,
    orderDraft,
    order,
    receipt,
    sent,
    file,
    payment: payment!,
    preview,
    cheque,
    message,
    manual,
    item: credit,
    debit,
    allocation,
    declaration,
    bank,
    cleanUp,
    rule,
    waiting,
    rhythm,
  };
}
export type ThingsOfAlpha = Awaited<ReturnType<typeof thingsOfAlpha>>;
