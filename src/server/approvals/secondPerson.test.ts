import { beforeAll, expect, test } from "vitest";
import { thingsOfAlpha, type ThingsOfAlpha } from "../../../tests/thingsOfAlpha";
import { callerOf, codes, must, PASSWORD, proposalOf } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { history, savePerson } from "../access";
import { saveDraft, submitDraft } from "../ledger";
import { decidePartnerBank } from "../partners";
import { createInvoice, getInvoice, postInvoice, releaseInvoice, saveInvoice } from "../payables";
import { changeRun, postRun, proposeRun } from "../runs";
import { approveDocument, saveApprovalRule, saveStandIn } from "./index";

const w = world();
const as = (login: string) => callerOf(w.database, login);
let t: ThingsOfAlpha;

beforeAll(async () => {
  t = await thingsOfAlpha(w.database);
  for (const [login, role] of [
    ["second", "controller"],
    ["third", "controller"],
    ["deputy", "accountant"],
  ])
    must(
      await savePerson(await as("root"), {
        login,
        name: `The ${login}`,
        password: PASSWORD,
        grants: [{ role, company: null }],
      }),
    );
});

test("whoever wrote the amount of a held invoice does not release it, whoever entered it first", async () => {
  const content = { ...must(await getInvoice(await as("payables"), { id: t.held.id })).content };
  const version = must(await getInvoice(await as("second"), { id: t.held.id })).version;
  const dear = { ...content, lines: [{ ...content.lines[0]!, net: "4,321.00" }] };
  const saved = must(
    await saveInvoice(await as("second"), { id: t.held.id, version, content: dear }),
  );
  const posted = await postInvoice(await as("second"), {
    id: t.held.id,
    version: saved.version,
    content: dear,
  });
  expect(must(posted).held!.length).toBeGreaterThan(0);
  const release = { id: t.held.id, reason: "looks right to me" };
  expect(codes(await releaseInvoice(await as("second"), release))).toEqual(["FORBIDDEN"]);
  expect(codes(await releaseInvoice(await as("payables"), release))).toEqual(["FORBIDDEN"]);
  expect(must(await releaseInvoice(await as("third"), release)).number).toMatch(/^ALP-26-P/);
});

test("whoever has posted what another wrote, without a word changed, may release it", async () => {
  const made = must(
    await createInvoice(await as("payables"), {
      ...t.invoiceContent,
      number: "UNCHANGED",
      lines: [{ order: `${t.order.number}/1`, quantity: "9", net: "180.00", taxCode: "S" }],
    }),
  );
  const { version, content } = must(await getInvoice(await as("second"), { id: made.id }));
  const held = must(await postInvoice(await as("second"), { id: made.id, version, content }));
  expect(held.held!.length).toBeGreaterThan(0);
  must(await releaseInvoice(await as("second"), { id: made.id, reason: "agreed by phone" }));
});

test("an approver who changed a journal before it was sent does not approve it, nor anybody in their name", async () => {
  const draft = must(await saveDraft(await as("accountant"), { content: t.content }));
  const changed = { ...t.content, description: "Fenders, and more" };
  const saved = must(
    await saveDraft(await as("second"), {
      id: draft.id,
      version: 99,
      overwrite: true,
      content: changed,
    }),
  );
  // What was written over is kept, with who did it.
  const [event] = must(
    await history(await as("root"), { kind: "journal", recordId: String(draft.id) }),
  );
  expect([
    event!.action,
    event!.by,
    (event!.before as { description: string }).description,
  ]).toEqual(["written over", "The second", "Fenders"]);
  must(
    await submitDraft(await as("accountant"), {
      id: draft.id,
      version: saved.version,
      content: changed,
    }),
  );
  expect(codes(await approveDocument(await as("second"), { id: draft.id }))).toEqual(["FORBIDDEN"]);
  // The deputy has no role for it but as a stand-in: in the name of a writer that is none.
  const days = { standIn: "deputy", from: "2026-10-01", to: "2026-10-31" };
  must(await saveStandIn(await as("second"), days));
  expect(codes(await approveDocument(await as("deputy"), { id: draft.id }))).toEqual(["FORBIDDEN"]);
  must(await saveStandIn(await as("third"), days));
  must(await approveDocument(await as("deputy"), { id: draft.id }));
});

test("of two who have had a hand in a payment run neither releases it", async () => {
  must(
    await saveApprovalRule(await as("root"), {
      type: "payment",
      minimum: "1.00",
      currency: "EUR",
      role: "controller",
    }),
  );
  const params = {
    company: "ALP",
    bank: "MAIN",
    date: "2026-10-15",
    next: "2026-10-22",
    suppliers: ["TRA"],
  };
  const run = must(await proposeRun(await as("second"), { kind: "payment", params }));
  const key = String(run.id);
  const { items } = await proposalOf(await as("third"), key);
  const dropped = items
    .filter((i) => i.leftOut === undefined)
    .slice(1)
    .map((i) => i.key);
  must(await changeRun(await as("third"), { key, dropped }));
  for (const login of ["second", "third"])
    expect(codes(await postRun(await as(login), { key }))).toEqual(["RUN_APPROVAL"]);
  must(await postRun(await as("controller"), { key }));
});

test("where money goes is said by payables or treasury, and by nobody who wrote any of it", async () => {
  const confirm = { id: t.bank.id, to: "confirmed" };
  expect(codes(await decidePartnerBank(await as("receivables"), confirm))).toEqual(["FORBIDDEN"]);
  expect(codes(await decidePartnerBank(await as("payables"), confirm))).toEqual(["FORBIDDEN"]);
  must(await decidePartnerBank(await as("treasury"), confirm));
});
