import { expect, test } from "vitest";
import { minor } from "@/core/shared";
import { BANK_OF_ALPHA, callerOf, codes, journal, must, runAs } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { postDrafts, chart } from "../ledger";
import { makePayment } from "../payables";
import { listBankAccounts, listBanks, loadBanks, saveBank, saveBankAccount } from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const accountOf = async (code: string) =>
  must(await listBankAccounts(await root(), {})).find((a) => a.code === code)!;
const sound = { name: "Bank of the Sound", country: "DE", nationalCode: "500 105 17" };
const savings = {
  ...BANK_OF_ALPHA,
  code: "SAVE",
  name: "Savings",
  kind: "deposit",
  account: "1118",
  newAccount: "Savings at the Bank of the Sound",
  bankName: sound.name,
};

test("an account, its bank and its ledger account are one act, and nothing of it stays where one is refused", async () => {
  const refused = await saveBankAccount(await root(), {
    ...savings,
    newBank: sound,
    underWayAccount: "9999",
  });
  expect(codes(refused)).toEqual(["ACCOUNT_UNKNOWN"]);
  expect(must(await listBanks(await root(), {}))).toEqual([]);
  must(await saveBankAccount(await root(), { ...savings, newBank: sound }));
  const [bank] = must(await listBanks(await root(), {}));
  expect(bank).toMatchObject({ name: sound.name, nationalCode: "50010517", accounts: 1 });
  expect(await accountOf("SAVE")).toMatchObject({ bankId: bank!.id, kind: "deposit" });
  const added = must(await chart(await root(), {})).accounts.find((a) => a.number === "1118");
  expect(added).toMatchObject({ control: "bank", currency: "EUR", type: "asset" });
  const again = await saveBankAccount(await root(), {
    ...savings,
    code: "MORE",
    account: "1119",
    newBank: { ...sound, name: "BANK of the sound" },
  });
  expect(codes(again)).toEqual(["EXISTS"]);
});

test("who may not change the chart adds no ledger account by the way", async () => {
  const given = { ...savings, code: "OTHER", account: "1119", newBank: null };
  const refused = await saveBankAccount(await callerOf(w.database, "treasury"), given);
  expect(codes(refused)).toEqual(["FORBIDDEN"]);
});

test("what a bank changes is passed on to the accounts that still have it, where that is wished", async () => {
  const [bank] = must(await listBanks(await root(), {}));
  const own = { ...savings, newAccount: "", bankId: bank!.id };
  must(
    await saveBankAccount(await root(), {
      ...own,
      code: "OWN",
      account: "1119",
      newAccount: "Other",
      bankName: "Branch at the harbour",
    }),
  );
  const change = { ...sound, id: bank!.id, name: "Sound Bank", bic: "ZZZZDE2D" };
  const passed = must(await saveBank(await root(), { ...change, version: bank!.version }));
  expect(passed.accounts).toBe(2);
  expect(await accountOf("SAVE")).toMatchObject({ bankName: "Sound Bank", bic: "ZZZZDE2D" });
  expect(await accountOf("OWN")).toMatchObject({
    bankName: "Branch at the harbour",
    bic: "ZZZZDE2D",
  });
  expect(codes(await saveBank(await root(), { ...change, version: bank!.version }))).toEqual([
    "STALE",
  ]);
  const alone = { ...change, name: "Third name", version: bank!.version + 1, withAccounts: false };
  expect(must(await saveBank(await root(), alone)).accounts).toBe(0);
  expect(await accountOf("SAVE")).toMatchObject({ bankName: "Sound Bank" });
});

test("an account closes when nothing is in it and nothing under way, and pays nothing from then on", async () => {
  const { version } = await accountOf("SAVE");
  const asItIs = { ...savings, newAccount: "", bankName: "Sound Bank", bic: "ZZZZDE2D" };
  const closed = { ...asItIs, closedOn: "2026-10-20" };
  const line = (account: string, side: "debit" | "credit") => ({
    account,
    dimensions: {},
    description: "",
    side,
    amount: minor(700n),
  });
  const moves = async (to: string, from: string) =>
    runAs(await root(), (c) =>
      postDrafts(c, [journal({ type: "bank", lines: [line(to, "debit"), line(from, "credit")] })]),
    );
  must(await moves("1118", "2410"));
  const refused = await saveBankAccount(await root(), { ...closed, version });
  expect(refused.ok ? [] : refused.problems).toMatchObject([
    { code: "IN_USE", what: "SAVE holds 7.00 EUR: it closes when its balance is nil" },
  ]);
  must(await moves("2410", "1118"));
  must(await saveBankAccount(await root(), { ...closed, version }));
  const pay = async (date: string) =>
    makePayment(await callerOf(w.database, "payables"), {
      company: "ALP",
      bank: "SAVE",
      date,
      payee: "Quay office",
      currency: "EUR",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount: "1.00" }],
    });
  const late = await pay("2026-10-20");
  expect(late.ok ? [] : late.problems).toMatchObject([
    { what: "SAVE is closed from 20 Oct 2026 on" },
  ]);
});

test("banks come in from a file, all or none, and accounts follow as by hand", async () => {
  const load = async (rows: Record<string, string>[], take = true) =>
    loadBanks(await root(), { rows, take });
  const far = { name: "Far Bank", country: "NO", nationalCode: "99 99", cutOff: "13:00" };
  const wrong = await load([far, { name: "No Land", country: "Norway" }, far]);
  expect(wrong.ok ? [] : wrong.problems.map((p) => "what" in p && p.what)).toEqual([
    "Row 3: Two letters, like IE",
    "Row 4: Far Bank stands in the file twice",
  ]);
  const counts = { added: 1, changed: 0, same: 0 };
  expect(must(await load([far], false))).toEqual(counts);
  expect(must(await load([far]))).toEqual(counts);
  expect(must(await load([far]))).toEqual({ added: 0, changed: 0, same: 1 });
  const by = await root();
  const bank = () => listBanks(by, {});
  const found = must(await bank()).find((b) => b.name === "Far Bank")!;
  must(
    await saveBankAccount(by, {
      ...BANK_OF_ALPHA,
      code: "FARB",
      account: "1115",
      bankId: found.id,
      bankName: "Far Bank",
    }),
  );
  const change = { name: "far bank", bic: "ZZZZNO22", holidays: "2026-12-24 2026-12-31" };
  expect(must(await load([change]))).toEqual({ added: 0, changed: 1, same: 0 });
  expect(must(await bank()).find((b) => b.id === found.id)).toMatchObject({
    name: "far bank",
    bic: "ZZZZNO22",
    cutOff: "13:00",
    holidays: ["2026-12-24", "2026-12-31"],
  });
  expect(await accountOf("FARB")).toMatchObject({ bankName: "far bank", bic: "ZZZZNO22" });
});
