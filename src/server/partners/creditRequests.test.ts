import { beforeAll, expect, test } from "vitest";
import { world } from "../../../tests/useWorld";
import { callerOf, codes, must } from "../../../tests/world";
import {
  askForCreditLimit,
  decideCreditRequest,
  getPartner,
  listCreditRequests,
  savePartner,
} from "./index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const root = () => callerOf(w.database, "root");
const QUAY = { code: "QUAY", name: "Quayside", customer: true, country: "IE", currency: "EUR" };
const change = async (who: () => ReturnType<typeof clerk>, more: object) => {
  const { version } = must(await getPartner(await who(), { code: "QUAY" }));
  return savePartner(await who(), { ...QUAY, version, ...more });
};
const limit = async () => must(await getPartner(await root(), { code: "QUAY" })).creditLimit;
const ask = async (amount: string, who = clerk) =>
  askForCreditLimit(await who(), {
    partner: "QUAY",
    limit: amount,
    currency: "EUR",
    reason: "Twice as many lorries from January",
  });

beforeAll(async () => {
  must(await savePartner(await clerk(), { ...QUAY, creditLimit: "1,000.00" }));
});

test("whoever invoices may lower a limit, and raise none: not by more, not by none, not by another currency", async () => {
  for (const more of [
    { creditLimit: "1,000.01" },
    { creditLimit: "" },
    { creditLimit: "900.00", creditCurrency: "GBP" },
  ]) {
    const refused = await change(clerk, more);
    expect(refused.ok ? [] : refused.problems.map((p) => p.field)).toEqual(["creditLimit"]);
  }
  must(await change(clerk, { creditLimit: "800.00" }));
  // What else is changed with the limit as it is, is changed.
  must(await change(clerk, { creditLimit: "800.00", name: "Quayside & Sons" }));
  expect(await limit()).toBe("800.00");
  // Whoever sets the rules of the group says it at once.
  must(await change(root, { creditLimit: "1,500.00" }));
});

test("a higher one is asked for, decided by a second person, and once", async () => {
  expect(codes(await ask("lots"))).toEqual(["AMOUNT_NOT_NUMBER"]);
  const { id } = must(await ask("5,000.00"));
  expect(codes(await ask("6,000.00"))).toEqual(["INVALID"]);
  expect(codes(await decideCreditRequest(await clerk(), { id, outcome: "granted" }))).toEqual([
    "FORBIDDEN",
  ]);
  must(await decideCreditRequest(await root(), { id, outcome: "granted" }));
  expect(await limit()).toBe("5000.00");
  expect(codes(await decideCreditRequest(await root(), { id, outcome: "granted" }))).toEqual([
    "IN_USE",
  ]);
  const own = must(await ask("9,000.00", root));
  expect(
    codes(await decideCreditRequest(await root(), { id: own.id, outcome: "granted" })),
  ).toEqual(["FORBIDDEN"]);
  const [waiting, decided] = must(await listCreditRequests(await root()));
  expect(waiting).toMatchObject({ id: own.id, amount: 900_000n, now: 500_000n, mayDecide: false });
  expect(decided).toMatchObject({ id, outcome: "granted", mayDecide: false });
  const controller = await callerOf(w.database, "controller");
  const unsaid = await decideCreditRequest(controller, { id: own.id, outcome: "refused" });
  expect(codes(unsaid)).toEqual(["REQUIRED"]);
  const refuse = { id: own.id, outcome: "refused", note: "Pays late" };
  must(await decideCreditRequest(controller, refuse));
  expect(await limit()).toBe("5000.00");
});

test("two people who decide at the same moment decide it once", async () => {
  const { id } = must(await ask(""));
  const both = await Promise.all(
    [root(), root()].map(async (who) => decideCreditRequest(await who, { id, outcome: "granted" })),
  );
  expect(both.filter((b) => b.ok)).toHaveLength(1);
  expect(await limit()).toBe("");
});
