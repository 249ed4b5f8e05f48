import { beforeAll, expect, test } from "vitest";
import { bankDay, IBAN } from "../../../tests/bankDay";
import { world } from "../../../tests/useWorld";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../tests/world";
import { whatWaits } from "../documents";
import { makePayment } from "../payables";
import { postRun, proposeRun, reverseRun } from "../runs";
import {
  decidePaymentRequest,
  getPayment,
  paymentsOfRun,
  reversePayment,
  saveBankAccount,
} from "./index";

const w = world();
const { root, treasury, faults } = bankDay(w);
const clerk = () => callerOf(w.database, "payables");
const paid = async (amount: string) =>
  must(
    await makePayment(await clerk(), {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-07",
      supplier: "PEL",
      currency: "EUR",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount }],
    }),
  );
const view = async (id: number) => must(await getPayment(await root(), { id }));

beforeAll(async () => {
  must(
    await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN, reviews: ["payments"] }),
  );
});

test("a payment is undone only once a second person has looked, and whoever asked is none", async () => {
  const { id } = await paid("10.00");
  const undo = async (by = clerk) => reversePayment(await by(), { id, reason: "Paid twice" });
  expect(codes(await reversePayment(await clerk(), { id, reason: "" }))).toEqual([
    "REASON_REQUIRED",
  ]);
  expect(must(await undo())).toMatchObject({ asked: true, journal: "" });
  expect(await view(id)).toMatchObject({
    status: "posted",
    request: { how: "reversed", reason: "Paid twice", login: "payables" },
  });
  expect(must(await whatWaits(await root(), {})).ALP?.["/payables/payments"]).toBe(1);
  // One request at a time; neither whoever asked nor somebody without the right decides.
  expect(codes(await undo(root))).toEqual(["INVALID"]);
  expect(codes(await decidePaymentRequest(await clerk(), { id }))).toEqual(["FORBIDDEN"]);
  const stranger = await callerOf(w.database, "assets");
  expect(codes(await decidePaymentRequest(stranger, { id }))).toEqual(["FORBIDDEN"]);
  expect((await view(id)).request).not.toBeNull();
  must(await decidePaymentRequest(await root(), { id }));
  expect(await view(id)).toMatchObject({ status: "reversed", reason: "Paid twice", request: null });
  expect(await faults()).toEqual([]);
});

test("what was asked can be left, by whoever asked too; a run does not pass the second look by", async () => {
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      code: "SAVE",
      account: "1111",
      iban: "DE75512108001245126199",
    }),
  );
  const run = must(
    await proposeRun(await treasury(), {
      kind: "transfer",
      params: {
        company: "ALP",
        bank: "MAIN",
        date: "2026-10-05",
        transfers: [{ to: "SAVE", amount: "5" }],
      },
    }),
  );
  const key = String(run.id);
  must(await postRun(await treasury(), { key }));
  const [{ id } = { id: 0 }] = must(
    await paymentsOfRun(await treasury(), { run: run.id }),
  ).payments;
  expect(codes(await reverseRun(await treasury(), { key, reason: "Wrong day" }))).toEqual([
    "RUN_STANDS_IN_WAY",
  ]);
  must(await reversePayment(await treasury(), { id, reason: "Wrong day" }));
  must(await decidePaymentRequest(await treasury(), { id, keep: true }));
  expect(await view(id)).toMatchObject({ status: "posted", request: null });
  expect(codes(await decidePaymentRequest(await root(), { id }))).toEqual(["NOT_FOUND"]);
  must(await reversePayment(await treasury(), { id, reason: "Wrong day" }));
  must(await decidePaymentRequest(await root(), { id }));
  expect((await view(id)).status).toBe("reversed");
  expect(await faults()).toEqual([]);
});

test("two people who decide at the same moment undo it once", async () => {
  const { id } = await paid("12.00");
  must(await reversePayment(await clerk(), { id, reason: "Paid twice" }));
  const both = await Promise.all(
    [root, () => callerOf(w.database, "controller")].map(async (by) =>
      decidePaymentRequest(await by(), { id }),
    ),
  );
  expect(both.map((b) => codes(b)).sort()).toEqual([[], ["NOT_FOUND"]]);
  expect((await view(id)).status).toBe("reversed");
  expect(await faults()).toEqual([]);
});
