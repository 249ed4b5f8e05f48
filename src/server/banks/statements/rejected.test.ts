import { beforeAll, expect, test } from "vitest";
import { writeStatusReport } from "@/core/banks/statements/writeStatusReport";
import { bankDay, file, IBAN, statement } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must, STANDARD_TAX } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { NO_KEYS } from "@/core/banks/statements";
import { openItems } from "../../openItems";
import { addPartnerBank, decidePartnerBank, savePartner } from "../../partners";
import { createInvoice } from "../../payables";
import { saveTaxCode } from "../../taxes";
import { postRun, proposeRun } from "../../runs";
import { today } from "../../ledger";
import {
  getPayment,
  importStatements,
  listStatementFiles,
  makePaymentFile,
  paymentsOfRun,
  saveBankAccount,
} from "../index";

const w = world();
const { treasury, root, takeIn, post, faults } = bankDay(w);
const clerk = () => callerOf(w.database, "payables");

const left = async () =>
  must(
    await openItems(await clerk(), {
      company: "ALP",
      area: "payables",
      on: "2026-10-31",
      partner: "TRA",
    }),
  ).map((i) => [i.reference, i.left]);
const run = async () => {
  const proposed = must(
    await proposeRun(await clerk(), {
      kind: "payment",
      params: { company: "ALP", bank: "MAIN", date: "2026-10-15", next: "2026-10-22" },
    }),
  );
  must(await postRun(await clerk(), { key: String(proposed.id) }));
  return proposed;
};
let n = 0;
const report = async (
  original: string,
  refused: { endToEnd: string; reason: string }[],
  by = treasury,
) =>
  importStatements(
    await by(),
    file(
      `report-${++n}.xml`,
      writeStatusReport("2026-10-16T08:00:00Z", { message: `R${n}`, original, refused }),
    ),
  );

beforeAll(async () => {
  must(await saveTaxCode(await root(), STANDARD_TAX));
  must(
    await savePartner(await clerk(), {
      code: "TRA",
      name: "Supplier TRA",
      supplier: true,
      country: "DE",
      method: "transfer",
    }),
  );
  must(
    await decidePartnerBank(await root(), {
      id: must(
        await addPartnerBank(await clerk(), { partner: "TRA", iban: "DE75512108001245126199" }),
      ).id,
      to: "confirmed",
    }),
  );
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  for (const [number, net] of [
    ["N-1", "100.00"],
    ["N-2", "200.00"],
  ] as const)
    must(
      await createInvoice(await clerk(), {
        company: "ALP",
        supplier: "TRA",
        number,
        date: "2026-09-01",
        lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net, taxCode: "S" }],
        post: true,
      }),
    );
});

test("what the bank refuses is open again, with its reason, and is paid by the next run", async () => {
  const first = await run();
  expect(await left()).toEqual([]);
  must(await makePaymentFile(await clerk(), { run: first.id }));
  const { payments } = must(await paymentsOfRun(await clerk(), { run: first.id }));
  const [payment] = payments;
  const original = first.number;
  const refused = [{ endToEnd: payment!.number, reason: "AC04" }];
  // Not of ours, not in the file, not by whom it is none of.
  expect(codes(await report("NOBODY-1", refused))).toEqual(["INVALID"]);
  expect(codes(await report(original, [{ endToEnd: "P-0", reason: "AC04" }]))).toEqual(["INVALID"]);
  expect(codes(await report(original, refused, clerk))).toEqual(["FORBIDDEN"]);
  expect(await left()).toEqual([]);

  const taken = must(await report(original, refused));
  expect(taken).toMatchObject({ rejected: 1, lines: 0 });
  expect(must(await getPayment(await clerk(), { id: payment!.id }))).toMatchObject({
    status: "rejected",
    reason: "Rejected by the bank: AC04, the account is closed",
  });
  expect((await left()).length).toBeGreaterThan(0);
  expect(await faults()).toEqual([]);
  // Said again in another report, it is known.
  expect(must(await report(original, refused))).toMatchObject({ rejected: 0 });
  const [log] = must(await listStatementFiles(await treasury(), { company: "ALP" }));
  expect(log).toMatchObject({ format: "pain.002", statements: 0 });
  const waits = must(await today(await clerk(), { company: "ALP" })).waiting;
  expect(waits.map((x) => x.number)).toContain(payment!.number);

  await run();
  expect(await left()).toEqual([]);
  expect(await faults()).toEqual([]);
});

test("what is on a statement was carried out: a report that refuses it is refused", async () => {
  const invoice = {
    company: "ALP",
    supplier: "TRA",
    number: "N-3",
    date: "2026-09-01",
    lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net: "50.00", taxCode: "S" }],
    post: true,
  };
  must(await createInvoice(await clerk(), invoice));
  const paid = await run();
  must(await makePaymentFile(await clerk(), { run: paid.id }));
  const { payments } = must(await paymentsOfRun(await clerk(), { run: paid.id }));
  const payment = payments[0]!;
  await takeIn(
    statement(
      "300",
      0n,
      [
        {
          amount: -payment.amount,
          code: "PMNT-ICDT-ESCT",
          keys: { ...NO_KEYS, endToEnd: payment.number },
        },
      ],
      { from: "2026-10-14", to: "2026-10-15" },
    ),
  );
  await post();
  const refused = [{ endToEnd: payment.number, reason: "AC04" }];
  expect(await report(paid.number, refused)).toMatchObject({
    problems: [{ what: `${payment.number} is on a bank statement: it was carried out` }],
  });
});
