import { expect, test } from "vitest";
import { minor } from "../shared";
import { approvalRuleFor, type ApprovalRule } from "./index";

const rule = (id: number, over: Partial<ApprovalRule> = {}): ApprovalRule => ({
  id,
  type: null,
  company: null,
  accountFrom: null,
  accountTo: null,
  minimum: minor(0n),
  currency: "EUR",
  role: "controller",
  ...over,
});
const journal = (over = {}) => ({
  type: "general",
  company: "HSF",
  accounts: ["6310", "2410"],
  amountIn: (currency: string) =>
    currency === "EUR" ? minor(5_000_000n) : currency === "GBP" ? minor(4_300_000n) : null,
  ...over,
});

test.each([
  ["at its amount", rule(1, { minimum: minor(5_000_000n) }), true],
  ["a cent below it", rule(1, { minimum: minor(5_000_001n) }), false],
  ["in the rule's own currency", rule(1, { minimum: minor(4_400_000n), currency: "GBP" }), false],
  [
    "where no rate leads to it, whatever the amount",
    rule(1, { minimum: minor(10n ** 12n), currency: "JPY" }),
    true,
  ],
  ["another type", rule(1, { type: "accrual" }), false],
  ["its type", rule(1, { type: "general" }), true],
  ["another company", rule(1, { company: "MBY" }), false],
  ["an account in the range", rule(1, { accountFrom: "6300", accountTo: "6399" }), true],
  ["no account in the range", rule(1, { accountFrom: "3000", accountTo: "3999" }), false],
  ["from an account on", rule(1, { accountFrom: "6000" }), true],
])("a rule holds: %s", (_name, r, holds) =>
  expect(approvalRuleFor([r], journal()) !== undefined).toBe(holds),
);

test("the first that holds decides", () => {
  expect(approvalRuleFor([rule(1, { type: "accrual" }), rule(2), rule(3)], journal())?.id).toBe(2);
});
