import { beforeAll, describe, expect, test } from "vitest";
import { NO_KEYS, NO_PARTY } from "@/core/banks/statements";
import { bankDay, camt, file, IBAN, statement } from "../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { savePair } from "../organisation";
import { loadRates } from "../rates";
import { postRun, proposeRun, reverseRun } from "../runs";
import {
  agreeToAccount,
  bankPosition,
  getPaymentFile,
  importStatements,
  listBankAccounts,
  makePaymentFile,
  paymentsOfRun,
  rejectPayment,
  saveAccountControl,
  saveBankAccount,
} from "./index";

const w = world();
const { treasury, root, lines, takeIn, post, position, faults } = bankDay(w);
const [OTHER, THEIRS] = ["DE75512108001245126199", "NL02ABNA0123456789"];
const propose = async (transfers: object[], by = root) =>
  proposeRun(await by(), {
    kind: "transfer",
    params: { company: "ALP", bank: "MAIN", date: "2026-10-05", transfers },
  });
const make = async (transfers: object[], by = root) => {
  const run = must(await propose(transfers, by));
  must(await postRun(await by(), { key: String(run.id) }));
  const { payments } = must(await paymentsOfRun(await treasury(), { run: run.id }));
  return { run, payments };
};
const underWay = async (bank: string) =>
  (await position(bank)).underWay.map((i) => [i.amount, i.number]);
const statusOf = async (run: number) =>
  must(await paymentsOfRun(await treasury(), { run })).payments.map((p) => p.status);

beforeAll(async () => {
  for (const own of [
    { code: "MAIN", account: "1110", iban: IBAN },
    { code: "SAVE", account: "1112", iban: OTHER },
    { code: "USD", account: "1111", currency: "USD", iban: "GB29NWBK60161331926819" },
    { code: "BARE", account: "1115" },
    { code: "BETA", account: "1115", iban: THEIRS, company: "BET" },
  ])
    must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, name: own.code, ...own }));
  must(
    await loadRates(await root(), {
      take: true,
      rows: [{ base: "EUR", quote: "GBP", date: "2026-10-05", rate: "0.85" }],
    }),
  );
});

describe("transfers between own accounts", () => {
  test("are under way from the one and to the other, go out in a file, and each bank clears its side", async () => {
    const { run, payments } = await make(
      [{ to: "SAVE", amount: "1,500.00", text: "Dry dock" }],
      treasury,
    );
    const [paid] = payments;
    expect(paid).toMatchObject({ payee: "Alpha Ferries", status: "posted", amount: 150_000n });
    expect(await underWay("MAIN")).toEqual([[-150_000n, paid!.number]]);
    expect(await underWay("SAVE")).toEqual([[150_000n, paid!.number]]);
    // Nothing goes out from an account of which a change waits for somebody else.
    const main = { ...BANK_OF_ALPHA, code: "MAIN", name: "MAIN", account: "1110" };
    const version = async () =>
      must(await listBankAccounts(await root(), {})).find((b) => b.code === "MAIN")!.version;
    must(await saveAccountControl(await root(), { secondPerson: true }));
    for (const iban of ["DE89370400440532013000", IBAN])
      must(await saveBankAccount(await root(), { ...main, iban, version: await version() }));
    expect(codes(await makePaymentFile(await treasury(), { run: run.id }))).toEqual(["INVALID"]);
    must(await agreeToAccount(await treasury(), { code: "MAIN", version: await version() }));
    must(await saveAccountControl(await root(), { secondPerson: false }));
    const { id } = must(await makePaymentFile(await treasury(), { run: run.id }));
    const { content } = must(await getPaymentFile(await treasury(), { id }));
    expect(content).toContain(`<IBAN>${OTHER}</IBAN>`);
    expect(content).toContain("<Cd>INTC</Cd>");
    expect(content).toContain("Dry dock");
    // The bank that gets it books first; the payment is cleared by the bank that has sent it.
    const keys = { ...NO_KEYS, endToEnd: paid!.number };
    await takeIn(
      statement("1", 0n, [{ amount: 150_000n, keys, party: { ...NO_PARTY, account: IBAN } }], {
        account: OTHER,
      }),
    );
    expect((await lines()).map((l) => l.state)).toEqual(["certain"]);
    await post();
    expect(await underWay("SAVE")).toEqual([]);
    expect(await statusOf(run.id)).toEqual(["sent"]);
    await takeIn(
      statement("1", 0n, [{ amount: -150_000n, keys, party: { ...NO_PARTY, account: OTHER } }]),
    );
    await post();
    expect(await underWay("MAIN")).toEqual([]);
    expect(await statusOf(run.id)).toEqual(["cleared"]);
    expect(await faults()).toEqual([]);
  });

  test("are refused at their rows where they cannot go", async () => {
    const rows = ["MAIN", "USD", "BARE", "NONE", "BETA"].map((to) => ({ to, amount: "10" }));
    const refused = await propose([...rows, { to: "SAVE", amount: "-5" }]);
    expect(refused.ok ? [] : refused.problems.map((p) => [p.field, p.code])).toEqual([
      ["transfers.0.to", "INVALID"],
      ["transfers.1.to", "INVALID"],
      ["transfers.2.to", "INVALID"],
      ["transfers.3.to", "NOT_FOUND"],
      ["transfers.4.to", "INVALID"],
      ["transfers.5.amount", "AMOUNT_NOT_NUMBER"],
    ]);
    const payables = await callerOf(w.database, "payables");
    const params = {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-05",
      transfers: [{ to: "SAVE", amount: "5" }],
    };
    expect(codes(await proposeRun(payables, { kind: "transfer", params }))).toEqual(["FORBIDDEN"]);
  });

  test("to another company: what one has to get the other owes, and the bank may refuse it", async () => {
    must(
      await savePair(await root(), {
        first: "ALP",
        second: "BET",
        firstDueFrom: "1340",
        firstDueTo: "2150",
        secondDueFrom: "1340",
        secondDueTo: "2150",
      }),
    );
    const { run, payments } = await make([{ to: "BETA", amount: "900.00" }]);
    const there = async () =>
      must(await bankPosition(await root(), { company: "BET", date: "2026-10-31" })).find(
        (b) => b.code === "BETA",
      )!;
    expect((await there()).underWay.map((i) => i.amount)).toEqual([90_000n]);
    expect(await faults()).toEqual([]);
    must(await makePaymentFile(await treasury(), { run: run.id }));
    const no = { id: payments[0]!.id, reason: "Account blocked" };
    expect(codes(await rejectPayment(await callerOf(w.database, "payables"), no))).toEqual([
      "FORBIDDEN",
    ]);
    must(await rejectPayment(await root(), no));
    expect((await there()).underWay).toEqual([]);
    expect(await underWay("MAIN")).toEqual([]);
    expect(await faults()).toEqual([]);
    // What came there by its own id is certain, although it names an account of ours.
    const again = await make([{ to: "BETA", amount: "800.00" }]);
    const keys = { ...NO_KEYS, endToEnd: again.payments[0]!.number };
    const got = statement(
      "1",
      0n,
      [{ amount: 80_000n, keys, party: { ...NO_PARTY, account: IBAN } }],
      {
        account: THEIRS,
      },
    );
    must(await importStatements(await root(), file("beta.xml", camt(got))));
    const posting = must(
      await proposeRun(await root(), {
        kind: "bank-lines",
        params: { company: "BET", upTo: "2026-10-31" },
      }),
    );
    must(await postRun(await root(), { key: String(posting.id) }));
    expect((await there()).underWay).toEqual([]);
    // Its other side stands on a statement: the run cannot be reversed under it.
    const undo = await reverseRun(await root(), {
      key: String(again.run.id),
      reason: "Wrong bank",
    });
    expect(undo.ok).toBe(false);
    expect(await faults()).toEqual([]);
  });
});
