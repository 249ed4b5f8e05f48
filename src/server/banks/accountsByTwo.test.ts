import { beforeAll, describe, expect, test } from "vitest";
import { describeFound } from "@/core/shared";
import { IBAN } from "../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { savePerson } from "../access";
import { savePartner } from "../partners";
import { makePayment } from "../payables";
import {
  agreeToAccount,
  cancelDeposit,
  listBankAccounts,
  makeDeposit,
  saveAccountControl,
  saveBank,
  saveBankAccount,
} from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const treasury = () => callerOf(w.database, "treasury");
const third = () => callerOf(w.database, "third");
const NEW = {
  ...BANK_OF_ALPHA,
  code: "TWO",
  name: "By two",
  account: "1112",
  iban: "DE75512108001245126199",
};
const account = async (code = "TWO") =>
  must(await listBankAccounts(await root(), {})).find((b) => b.code === code)!;
const save = async (more: object = {}, by = root) =>
  saveBankAccount(await by(), { ...NEW, version: (await account()).version, ...more });
const agree = async (by: typeof root, more: object = {}) =>
  agreeToAccount(await by(), { code: "TWO", version: (await account()).version, ...more });
/** Why nothing can be paid from it; "" where it can. */
const refusal = async () => {
  const paid = await makePayment(await callerOf(w.database, "payables"), {
    company: "ALP",
    bank: "TWO",
    date: "2026-10-10",
    payee: "Quay office",
    currency: "EUR",
    lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount: "1.00" }],
  });
  return paid.ok ? "" : paid.problems.map(describeFound).join(" ");
};

beforeAll(async () => {
  must(
    await savePerson(await root(), {
      login: "third",
      name: "Third Person",
      password: "sea of long words",
      active: true,
      grants: [{ role: "treasury", company: null }],
    }),
  );
  must(
    await savePartner(await root(), {
      code: "OST",
      name: "Ostry Council",
      customer: true,
      country: "IE",
    }),
  );
  must(await saveAccountControl(await root(), { secondPerson: true }));
  must(await saveBankAccount(await root(), NEW));
});

describe("a bank account of two people", () => {
  test("is used once somebody else agrees, and again after every change of where money goes", async () => {
    expect(await refusal()).toMatch(/TWO is new and waits for a second person/);
    expect(codes(await agree(root))).toEqual(["INVALID"]);
    // Whoever has changed any of what waits does not agree, whoever has changed it since.
    must(await save({ name: "By the two" }, treasury));
    expect(codes(await agree(treasury))).toEqual(["INVALID"]);
    expect(codes(await agree(root))).toEqual(["INVALID"]);
    const seen = (await account()).version - 1;
    expect(codes(await agree(third, { version: seen }))).toEqual(["STALE"]);
    must(await agree(third));
    expect(await refusal()).toBe("");
    must(await save({ overdraft: "500,000.00" }));
    expect(await refusal()).toBe("");
    for (const more of [{ iban: IBAN }, { iban: IBAN, holder: "Somebody else" }]) {
      must(await save(more));
      expect(await refusal()).toMatch(/TWO was changed, and waits/);
      expect(codes(await agree(root))).toEqual(["INVALID"]);
      expect(codes(await agree(treasury, { agree: false }))).toEqual(["INVALID"]);
      must(await agree(treasury));
      expect(await refusal()).toBe("");
    }
  });

  test("allows more only once somebody else agrees, and the second look stays until then", async () => {
    const tight = {
      iban: IBAN,
      holder: "Somebody else",
      overdraft: "500,000.00",
      refuse: true,
      largestPayment: "1,000.00",
      reviews: ["deposits", "cheques"],
    };
    must(await save(tight));
    expect((await account()).waits).toBe("");
    const slip = must(
      await makeDeposit(await root(), {
        company: "ALP",
        bank: "TWO",
        date: "2026-10-10",
        parts: [{ kind: "cheque", partner: "OST", cheque: "77", amount: "10.00" }],
      }),
    );
    for (const more of [
      { overdraft: "500,000.01" },
      { tolerance: "1.00" },
      { refuse: false },
      { largestPayment: "1,000.01" },
      { largestPayment: "" },
      { reviews: [] },
      { reviews: ["deposits", "payments"] },
    ]) {
      must(await save({ ...tight, ...more }, treasury));
      expect([more, (await account()).waits]).toEqual([more, "change"]);
      expect(await refusal()).toMatch(/TWO was changed, and waits/);
      must(await save(tight, treasury));
      must(await agree(third));
    }
    must(await save({ ...tight, reviews: [] }, treasury));
    const undone = { id: slip.id, reason: "for nobody to see" };
    expect(must(await cancelDeposit(await treasury(), undone)).asked).toBe(true);
    must(await agree(third));
  });

  test("closes by two, stays in use until then, and opens again by two", async () => {
    must(await saveBankAccount(await root(), { ...NEW, code: "NIL", account: "1115", iban: "" }));
    const nil = async () => account("NIL");
    const asked = async (more: object, by = root) =>
      saveBankAccount(await by(), {
        ...NEW,
        code: "NIL",
        account: "1115",
        iban: "",
        version: (await nil()).version,
        ...more,
      });
    const yes = async (more: object = {}) =>
      agreeToAccount(await treasury(), { code: "NIL", version: (await nil()).version, ...more });
    must(await yes());
    must(await asked({ closedOn: "2026-10-12" }));
    expect(await nil()).toMatchObject({ waits: "closing", closesOn: "2026-10-12", closedOn: null });
    must(await yes({ agree: false }));
    expect(await nil()).toMatchObject({ waits: "", closesOn: null, closedOn: null });
    must(await asked({ closedOn: "2026-10-12" }));
    // A change of something else meanwhile does not drop what was asked.
    must(await asked({ name: "Nil" }));
    expect(await nil()).toMatchObject({ waits: "closing", closesOn: "2026-10-12", name: "Nil" });
    must(await yes());
    expect(await nil()).toMatchObject({ waits: "", closedOn: "2026-10-12" });
    must(await asked({ closedOn: "" }));
    expect(await nil()).toMatchObject({ waits: "opening" });
    expect(codes(await yes())).toEqual([]);
  });

  test("follows its bank to another routing code only when somebody else agrees", async () => {
    const bank = must(
      await saveBank(await root(), { name: "Kestle", country: "US", nationalCode: "021000021" }),
    );
    const far = {
      ...NEW,
      code: "FAR",
      account: "1111",
      currency: "USD",
      iban: "",
      number: "700",
      routing: "021000021",
      country: "US",
      bankId: bank.id,
    };
    must(await saveBankAccount(await root(), far));
    const agreed = async () =>
      agreeToAccount(await treasury(), { code: "FAR", version: (await account("FAR")).version });
    must(await agreed());
    must(
      await saveBank(await root(), {
        id: bank.id,
        version: 1,
        name: "Kestle",
        country: "US",
        nationalCode: "011401533",
      }),
    );
    expect(await account("FAR")).toMatchObject({ routing: "011401533", waits: "change" });
    must(await agreed());
    expect((await account("FAR")).waits).toBe("");
  });
});
