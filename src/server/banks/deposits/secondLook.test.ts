import { beforeAll, expect, test } from "vitest";
import { bankDay, IBAN } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { whatWaits } from "../../documents";
import { savePartner } from "../../partners";
import {
  cancelDeposit,
  decideSlipRequest,
  getDeposit,
  makeDeposit,
  returnCheque,
  saveBankAccount,
} from "../index";

const w = world();
const { treasury, root, faults } = bankDay(w);
const slip = async (...cheques: string[]) =>
  must(
    await makeDeposit(await treasury(), {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-05",
      parts: cheques.map((cheque) => ({
        kind: "cheque",
        partner: "OST",
        cheque,
        amount: "10.00",
        items: [],
      })),
    }),
  ).id;
const view = async (id: number) => must(await getDeposit(await treasury(), { id }));
const decide = async (id: number, by = root, keep = false) =>
  decideSlipRequest(await by(), { id, keep });

beforeAll(async () => {
  must(
    await savePartner(await root(), {
      code: "OST",
      name: "Ostry Council",
      customer: true,
      country: "IE",
    }),
  );
  must(
    await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN, reviews: ["deposits"] }),
  );
});

test("a slip is cancelled only once a second person has looked, and whoever asked is none", async () => {
  const id = await slip("1", "2");
  const asked = must(await cancelDeposit(await treasury(), { id, reason: "wrong account" }));
  expect(asked).toMatchObject({ asked: true });
  expect(await view(id)).toMatchObject({
    status: "posted",
    request: { is: "cancel", input: { reason: "wrong account" } },
  });
  expect(must(await whatWaits(await root(), {})).ALP?.["/banks/deposits"]).toBe(1);
  // One request at a time, and not by the same person.
  expect(codes(await cancelDeposit(await root(), { id, reason: "again" }))).toEqual(["INVALID"]);
  expect(codes(await decide(id, treasury))).toEqual(["FORBIDDEN"]);
  expect((await view(id)).request).not.toBeNull();
  must(await decide(id));
  expect(await view(id)).toMatchObject({ status: "reversed", request: null });
  expect(codes(await decide(id))).toEqual(["INVALID"]);
  expect(await faults()).toEqual([]);
});

test("a returned cheque waits likewise; what is asked can be left, by whoever asked too", async () => {
  const id = await slip("3", "4");
  const back = { id, no: 1, date: "2026-10-08", reason: "no funds" };
  expect(must(await returnCheque(await treasury(), back)).asked).toBe(true);
  expect((await view(id)).of[0]!.state).toBe("deposited");
  must(await decide(id, treasury, true));
  expect((await view(id)).request).toBeNull();
  expect(codes(await decide(id))).toEqual(["NOT_FOUND"]);
  must(await returnCheque(await treasury(), back));
  expect(must(await decide(id)).journal).not.toBe("");
  expect((await view(id)).of.map((p) => p.state)).toEqual(["returned", "deposited"]);
  expect(await faults()).toEqual([]);
});

test("what cannot be done any more when it is decided is refused, and the request stays", async () => {
  const id = await slip("5", "6");
  must(await cancelDeposit(await treasury(), { id, reason: "wrong account" }));
  // Set to at once meanwhile: another act does not pass the one that waits.
  const back = { id, no: 1, date: "2026-10-08", reason: "no funds" };
  expect(codes(await returnCheque(await root(), back))).toEqual(["INVALID"]);
  const nobody = await callerOf(w.database, "payables");
  expect(codes(await decideSlipRequest(nobody, { id }))).toEqual(["FORBIDDEN"]);
  expect((await view(id)).request).not.toBeNull();
});
